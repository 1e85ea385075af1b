import { Button } from "../parts/Button";
import type { Rule, Sheet } from "./sheet";

const fresh = { name: "New rule", when: { all: [] }, to: { hold: "to be decided" }, moments: [], task: "", message: "", urgent: false };

/** The sheet with one more rule at its end, under a key that no other has. */
function withOneMore(sheet: Sheet): Sheet {
  const taken = sheet.rules.map((r) => r.key);
  let n = sheet.rules.length + 1;
  while (taken.includes(`rule-${n}`)) n++;
  return { ...sheet, rules: [...sheet.rules, { key: `rule-${n}`, ...fresh } as Rule] };
}

/** Puts a rule at the end, open to every lead until it is told what it wants. */
export const AddRule = ({ sheet, onAdd }: { sheet: Sheet; onAdd: (sheet: Sheet) => void }) => <Button onPress={() => onAdd(withOneMore(sheet))}>Add a rule</Button>;
