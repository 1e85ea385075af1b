import { DialogTrigger } from "react-aria-components";
import styled from "styled-components";
import type { Condition, Field } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { Hanging } from "../parts/Hanging";
import { Picking } from "../parts/Picking";
import { fieldsOf, type Sheet } from "./sheet";

const Narrow = styled.div`
  padding: 14px;
  width: 260px;
`;

/** Which fields are columns. One that a rule asks stays, since its cells would not be seen otherwise. */
export function ColumnChoice({ sheet, fields, onChange }: { sheet: Sheet; fields: Field[]; onChange: (sheet: Sheet) => void }) {
  const asked = [...new Set(sheet.rules.flatMap((r) => fieldsOf(r.when as Condition)))];
  return (
    <DialogTrigger>
      <Button>Columns</Button>
      <Hanging label="Columns" placement="bottom end">
        <Narrow>
          <Picking label="Columns" options={fields.map((f) => ({ key: f.key, label: f.label }))} value={[...sheet.columns]} onChange={(columns) => onChange({ ...sheet, columns: [...columns, ...asked.filter((a) => !columns.includes(a))] })} />
        </Narrow>
      </Hanging>
    </DialogTrigger>
  );
}
