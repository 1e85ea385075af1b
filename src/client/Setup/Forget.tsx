import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { TextBox } from "../parts/Field";
import { count } from "../parts/format";
import { Ticks } from "../parts/Ticks";
import { Text } from "../parts/Words";

const Part = styled.section`
  margin-top: 30px;
  padding-top: 16px;
  border-top: 1px solid var(--hair);
`;

const never = { key: "bar", label: "Never let them in again: their addresses and numbers stay as marks on the do-not-contact list" };

/** Erases a person, once their address is typed again. */
export function Forget({ person, onErased }: { person: Schema["PersonDataView"]; onErased: () => void }) {
  const form = useForm({ called: "the erasure", initial: { confirm: "", after: [] as string[] }, asks: false });
  const erase = () =>
    form.send(({ confirm, after }) => must(api.POST("/api/persons/erase", { body: { who: person.who, confirm, bar: after.includes(never.key) } })), {
      changes: ["everything"],
      words: (done) => `Erased: ${count(done.records, "record")}.`,
      then: onErased,
    });
  return (
    <Part>
      <FormBox form={form} words={form.busy ? "Erasing" : "Erase"} look="bad" onSend={erase} isReady={!!form.values.confirm.trim()}>
        <h2>Erase them</h2>
        <Text>
          This cannot be undone. Their leads, story and letters go; rows of lists and posts are emptied where they stand; deals stay without their name. What left this system before, such as mails sent, files downloaded and the mail server's own folders, is not reached.
        </Text>
        <TextBox label={`Type ${person.who} again`} {...form.bind("confirm")} />
        <Ticks label="Afterwards" options={[never]} {...form.bind("after")} />
      </FormBox>
    </Part>
  );
}
