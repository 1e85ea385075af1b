import { ChoiceBox } from "../parts/Field";
import { count } from "../parts/format";
import { Block, Columns } from "../parts/Layout";
import { Hint } from "../parts/Words";
import type { Form } from "./HandingPage";
import { ofTeam, takers } from "./order";
import type { Holdings } from "./queries";

const nobody = "-";
const several = (names: readonly string[]) => (names.length > 3 ? `${names.slice(0, 3).join(", ")} and ${names.length - 3} more` : names.join(", "));

/** What somebody has beside records: places in turns and rules, people who report to them. */
export function Beside({ holdings, form }: { holdings: Holdings; form: Form }) {
  const { places, rules, reports, receivers, teams } = holdings;
  if (places.length + rules.length + reports.length === 0) return null;
  const working = takers(receivers, "lead").map((r) => ({ key: r.id, label: r.name }));
  const all = receivers.map((r) => ({ key: r.id, label: r.name }));
  const bind = (field: "placesTo" | "reportsTo") => ({ value: form.values[field] || nobody, onChange: (to: string) => form.set({ [field]: to === nobody ? "" : to }) });
  return (
    <Block $width={1000}>
      <Columns $of="1fr 1fr 1fr" $align="start">
        {places.length > 0 && (
          <div>
            <ChoiceBox label="Their places in turns" {...bind("placesTo")} error={form.said("placesTo")} options={[{ key: nobody, label: "nobody: the others share" }, ...working]} />
            <Hint>{several(places)}</Hint>
          </div>
        )}
        {rules.length > 0 && (
          <div>
            <ChoiceBox label={`Their place in ${count(rules.length, "rule")}`} value={form.values.rulesTo || null} error={form.said("rulesTo")} onChange={(to) => form.set({ rulesTo: to })} options={[...teams.map((t) => ({ key: ofTeam + t.key, label: `team ${t.label}` })), ...working]} />
            <Hint>{several(rules)}</Hint>
          </div>
        )}
        {reports.length > 0 && (
          <div>
            <ChoiceBox label="Who reported to them, reports to" {...bind("reportsTo")} error={form.said("reportsTo")} options={[{ key: nobody, label: "nobody" }, ...all]} />
            <Hint>{several(reports)}</Hint>
          </div>
        )}
      </Columns>
    </Block>
  );
}
