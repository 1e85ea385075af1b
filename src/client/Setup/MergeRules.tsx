import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import { DataTable } from "../parts/DataTable";
import { ChoiceBox } from "../parts/Field";
import { Block } from "../parts/Layout";
import { Text, Title } from "../parts/Words";

type Rule = Schema["MergeRule"];

const rules = [
  { key: "trusted", label: "the source trusted more" },
  { key: "fullest", label: "the fuller one" },
  { key: "newest", label: "the newer one" },
];

const named = (rule: string) => rules.find((r) => r.key === rule)!.label;

/** What decides between two values of a field when two records become one. */
export function MergeRules() {
  const all = useQuery({ queryKey: keys.mergeRules, queryFn: () => must(api.GET("/api/merge-rules")) });
  const act = useAct();
  const keep = (field: string, label: string, rule: Rule) => must(api.PUT("/api/merge-rules/{field}", { params: { path: { field } }, body: { field, label, rule } }));
  const choose = (f: { field: string; label: string; rule: Rule }, rule: string) =>
    void act.run(() => keep(f.field, f.label, rule as Rule), { changes: ["setup"], words: `${f.label}: ${named(rule)} first.`, back: () => keep(f.field, f.label, f.rule) });
  return (
    <Block as="section" aria-label="Which value is proposed" $width={760} $above={6}>
      <Title>Which value is proposed</Title>
      <Text $above={1} $below={2}>
        When two records become one: what is known before what is not, what one of us wrote before what came in, and a directory last. After that, field by field; how far each source is trusted is said under <Link to="/setup/sources">Sources</Link>.
      </Text>
      <DataTable label="What decides for each field" head={["Field", { label: "Decides first", width: 260 }]} hasButtons>
        {all.data?.map((f) => (
          <tr key={f.field}>
            <td>{f.label}</td>
            <td>
              <ChoiceBox hideLabel label={`What decides for ${f.label}`} value={f.rule} options={rules} onChange={(r) => choose(f, r)} />
            </td>
          </tr>
        ))}
      </DataTable>
    </Block>
  );
}
