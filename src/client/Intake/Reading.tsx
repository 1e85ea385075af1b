import { api, must, type Schema } from "../api/client";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Columns } from "../parts/Layout";
import styled from "styled-components";
import { encodings, separators } from "./reading";

const Box = styled.div`
  padding: 12px 14px;
  margin-bottom: 14px;
  border: 1px solid var(--hair);
  border-radius: 3px;
  background: var(--paper);
`;

const named = (names: Record<string, string>, keys: readonly string[]) => keys.map((key) => ({ key, label: names[key] ?? key }));

/** Reading the file in another way: encoding, separator, sheet, heading row. */
export function Reading({ sieve, onDone }: { sieve: Schema["SieveView"]; onDone: () => void }) {
  const { encoding, separator, sheet, headingRow, sheets } = sieve.reading;
  const form = useForm({ called: "how the file is read", initial: { encoding, separator, sheet, headingRow: String(headingRow) }, asks: false });
  const send = () =>
    form.send(({ headingRow: row, ...to }) => must(api.PUT("/api/imports/{id}/reading", { params: { path: { id: sieve.import.id } }, body: { ...to, headingRow: row.trim() ? Number(row) || 0 : null } })), { changes: ["import"], then: onDone });
  return (
    <Box role="group" aria-label="How the file is read">
      <FormBox form={form} words={form.busy ? "Reading" : "Read so"} onSend={send} onLeave={onDone} leaveWords="Cancel">
        <Columns $of="repeat(auto-fit, minmax(150px, 1fr))" $align="start">
          {encoding && <ChoiceBox label="Encoding" {...form.bind("encoding")} options={named(encodings, sieve.choices.encodings)} />}
          {separator && <ChoiceBox label="Separator" {...form.bind("separator")} options={named(separators, [...new Set([...Object.keys(separators), separator])])} />}
          {sheet && <ChoiceBox label="Sheet" {...form.bind("sheet")} value={form.values.sheet ?? null} options={(sheets ?? []).map((s) => ({ key: s.name, label: s.hidden ? `${s.name} (hidden)` : s.name }))} onChange={(to) => form.set({ sheet: to, headingRow: "" })} />}
          {(separator || sheet) && <TextBox label="Heading row" hint="0 for none; blank to find it" inputMode="numeric" {...form.bind("headingRow")} />}
        </Columns>
      </FormBox>
    </Box>
  );
}
