import styled from "styled-components";
import type { Condition, Field } from "../Conditions/conditions";
import { ChoiceBox } from "../parts/Field";
import { Files } from "../parts/Files";
import { Block } from "../parts/Layout";
import { ErrorNote, Skeleton } from "../parts/States";
import { serif, small } from "../parts/theme";
import { CountTable } from "./CountTable";
import { groupings } from "./order";
import { useGroups } from "./queries";

const Page = styled.div`
  flex: 1;
  min-height: 0;
  overflow: auto;
  padding: 14px 18px 30px;
  h2 {
    ${serif}
    font-size: 18px;
    margin: 16px 0 10px;
  }
  p {
    ${small}
  }
`;

const Asked = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  & > * {
    width: 230px;
  }
`;

/** What can be counted or added up. */
function measuresOf(fields: Field[]) {
  const numbers = fields.filter((f) => !f.many && (f.type === "number" || f.type === "money"));
  const of = (how: string, words: string) => numbers.map((f) => ({ key: `${how}:${f.key}`, label: `${words} ${f.label.toLowerCase()} of these leads` }));
  return [{ key: "count", label: "leads" }, ...of("sum", "sum of"), ...of("mean", "mean")];
}

type Props = { where: Condition; fields: Field[]; params: URLSearchParams; set: (changes: Record<string, string | null>) => void };

/** The same leads counted: down, across, and what is added up. Every number leads to its rows. */
export function Counts({ where, fields, params, set }: Props) {
  const [rows, across, measure] = [params.get("rows") ?? "source", params.get("across") ?? "state", params.get("measure") ?? "count"];
  const columns = across === "none" ? null : across;
  const groups = useGroups(where, rows, columns, measure);
  const options = groupings(fields);
  const file = new URLSearchParams({ where: JSON.stringify(where), rows, columns: columns ?? "", measure });
  return (
    <Page>
      <Asked>
        <ChoiceBox label="Count" value={measure} options={measuresOf(fields)} onChange={(key) => set({ measure: key })} />
        <ChoiceBox label="For each" value={rows} options={options} onChange={(key) => set({ rows: key })} />
        <ChoiceBox label="And across" value={across} options={[{ key: "none", label: "nothing" }, ...options]} onChange={(key) => set({ across: key })} />
      </Asked>
      {groups.isPending && <Skeleton rows={8} />}
      {groups.isError && <ErrorNote error={groups.error} />}
      {groups.data && <CountTable groups={groups.data} where={where} of={options.find((o) => o.key === rows)?.label ?? rows} />}
      {groups.data && groups.data.total > 0 && (
        <Block as="p" $above={4}>
          <Files name="counts" at="leads/groups" query={file.toString()} />
        </Block>
      )}
    </Page>
  );
}
