import { useState } from "react";
import type { Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { useSession } from "../common/session";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { Overlay } from "../parts/Dialog";
import { TextBox } from "../parts/Field";
import { count } from "../parts/format";
import { Row } from "../parts/Layout";
import { Tick } from "../parts/Ticks";
import { Hint, Wrong } from "../parts/Words";
import { peopleActs } from "./queries";

export type Invited = Schema["Invited"];

type Read = Schema["PersonRead"];
type Props = Pick<Schema["PeopleView"], "roles" | "teams" | "sends"> & { onInvited: (invited: Invited[]) => void; onClose: () => void };

/** Several people from lines that are typed, or pasted from a sheet; each is shown as it was read before anybody is invited. */
export function SeveralForm({ roles, teams, sends, onInvited, onClose }: Props) {
  const { timeZone } = useSession();
  const form = useForm({ called: "the list of people", name: "several-people", initial: { text: "", send: false } });
  const reading = useAct("here");
  const [read, setRead] = useState<{ text: string; people: Read[] }>();
  const current = read?.text === form.values.text ? read.people : undefined;
  const look = () => void reading.run(() => peopleActs.read(form.values.text), { changes: [], then: (people) => setRead({ text: form.values.text, people }) });
  const invite = () =>
    form.send(({ send }) => peopleActs.inviteSeveral(current!.map(({ name, email, role, teams: of }) => ({ name, email, roles: [role], teams: of, timeZone, manager: null })), send), {
      changes: ["people"],
      words: (made) => `${count(made.length, "person is", "people are")} invited.`,
      then: (made) => {
        onInvited(made);
        onClose();
      },
    });
  const wrong = current?.filter((p) => p.problem).length ?? 0;
  const isReady = !!current?.length && wrong === 0;
  return (
    <Overlay title="Invite several" isOpen onClose={onClose} width={680} unsaved={form}>
      <FormBox form={form} words={isReady ? `Invite ${count(current.length, "person", "people")}` : "Look at them first"} onSend={isReady ? invite : look} isReady={!!form.values.text.trim() && !reading.busy}>
        <TextBox label="One a line" lines={7} {...form.bind("text")} autoFocus placeholder={`Ane Lie; ane@company.example; Rep${teams[0] ? `; ${teams[0].label}` : ""}`} hint="a name and an email address, then role and teams if you like; or paste it from a sheet" />
        {reading.any && <Wrong>{reading.any}</Wrong>}
        {current && (
          <DataTable label="As it was read" head={["Line", "Name", "Email address", "Role", "Teams"]}>
            {current.map((p) => (
              <tr key={p.line}>
                <td>{p.line}</td>
                {p.problem ? (
                  <td colSpan={4}>
                    <Wrong>{p.problem}</Wrong>
                  </td>
                ) : (
                  <>
                    <td>{p.name}</td>
                    <td>{p.email}</td>
                    <td>{roles.find((r) => r.key === p.role)?.label}</td>
                    <td>{p.teams.map((t) => teams.find((x) => x.key === t)?.label).join(", ")}</td>
                  </>
                )}
              </tr>
            ))}
          </DataTable>
        )}
        {current?.length === 0 && <Hint>There is nobody in these lines.</Hint>}
        <Row>{isReady && sends && <Tick {...form.bind("send")}>Send each their address as a letter, too</Tick>}</Row>
      </FormBox>
      {isReady && (
        <Button look="quiet" onPress={() => setRead(undefined)}>
          Change the lines
        </Button>
      )}
    </Overlay>
  );
}
