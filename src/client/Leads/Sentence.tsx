import { Button, DialogTrigger, Select, SelectValue } from "react-aria-components";
import styled from "styled-components";
import { Float, Menu, MenuItem } from "../parts/Field";
import { whole } from "../parts/format";
import { serif, small } from "../parts/theme";
import { useMay } from "../Setup/session";
import { orders, toCondition, type Picks } from "./conditions";
import { useFields, usePeople } from "./queries";
import { moves, states } from "./words";

const Box = styled.div`
  padding: 14px 18px 9px;
  border-bottom: 1px solid var(--hair);
  h1 {
    ${serif}
    font-size: 17px;
    font-weight: 450;
    line-height: 1.55;
  }
  p {
    ${small}
    margin-top: 4px;
  }
  p b {
    color: var(--ink);
  }
`;

const Part = styled(Button)`
  display: inline;
  font: inherit;
  letter-spacing: inherit;
  padding: 0;
  border: 0;
  border-bottom: 1.5px solid var(--slate);
  background: none;
  color: var(--slate);
  cursor: pointer;
  text-align: left;
  &[data-hovered] {
    background: var(--slate-wash);
  }
`;

/** Keeps a part and the comma behind it on one line. */
const Held = styled.span`
  white-space: nowrap;
  .react-aria-Select {
    display: inline-block;
  }
`;

type Option = { key: string; label: string };

type Props = { picks: Picks; count?: number; withoutOwner?: number; onChange: (changes: Record<string, string | null>) => void };

const served = ["GB", "IE", "NO", "SE", "DK", "DE", "AT", "CH", "ES", "PT", "US", "CA"];
const countryNames = new Intl.DisplayNames("en", { type: "region" });

/** The view's conditions as one sentence; each part is changed in place. */
export function Sentence({ picks, count, withoutOwner, onChange }: Props) {
  const people = usePeople();
  const fields = useFields();
  const sources = fields.data?.find((f) => f.key === "source")?.choices ?? [];
  const stateOptions = [{ key: "open", label: "still open" }, { key: "any", label: "in any state" }, ...Object.entries(states).map(([key, label]) => ({ key, label: label.toLowerCase() }))];
  const ownerOptions = [{ key: "any", label: "of anybody" }, { key: "none", label: "without owner" }, ...(people.data ?? []).map((p) => ({ key: p.id, label: `of ${p.name}` }))];
  const fitOptions = [{ key: "0", label: "any fit" }, ...[40, 60, 75].map((n) => ({ key: String(n), label: `fit ${n} or more` }))];
  const moveOptions = [{ key: "any", label: "any next move" }, ...Object.entries(moves).map(([key, label]) => ({ key, label: `next move “${label}”` }))];
  const sourceOptions = [{ key: "any", label: "any source" }, ...sources];
  return (
    <Box>
      <h1>
        Leads {picks.text && <Searched text={picks.text} onClear={() => onChange({ text: null })} />}
        in <Countries chosen={picks.countries} onChange={(keys) => onChange({ country: keys.length ? keys.join(",") : null })} />{" "}
        <Choose label="State" value={picks.state} options={stateOptions} onChange={(k) => onChange({ state: k })} />{" "}
        <Choose label="Owner" value={picks.owner} options={ownerOptions} onChange={(k) => onChange({ owner: k === "any" ? null : k })} /> with{" "}
        <Choose label="Fit" value={String(picks.fit)} options={fitOptions} onChange={(k) => onChange({ fit: k === "0" ? null : k })} />{" "}
        <Choose label="Next move" value={picks.move} options={moveOptions} onChange={(k) => onChange({ move: k === "any" ? null : k })} /> from{" "}
        <Choose label="Source" value={picks.source} options={sourceOptions} onChange={(k) => onChange({ source: k === "any" ? null : k })} />{" "}
        {picks.days > 0 && <Within days={picks.days} onClear={() => onChange({ days: null })} />}
        <Choose label="Order" value={picks.order} options={orders} onChange={(k) => onChange({ order: k })} after="." />
      </h1>
      <p role="status">
        {count === undefined ? "counting …" : <><b>{whole(count)}</b> {count === 1 ? "lead" : "leads"}{withoutOwner ? `, ${whole(withoutOwner)} open without owner` : ""}</>}
        {!!count && <Download picks={picks} />}
      </p>
    </Box>
  );
}

/** All of them as a file, with what each agreed to. */
function Download({ picks }: { picks: Picks }) {
  const may = useMay("exportLeads");
  const where = toCondition(picks);
  if (!may) return null;
  return (
    <>
      {" · "}
      <a href={`/api/leads.csv${where ? `?where=${encodeURIComponent(JSON.stringify(where))}` : ""}`} download="leads.csv">
        download (CSV)
      </a>
    </>
  );
}

function Searched({ text, onClear }: { text: string; onClear: () => void }) {
  return (
    <Held>
      with <Part onPress={onClear} aria-label={`Stop searching for ${text}`}>“{text}” ×</Part>,{" "}
    </Held>
  );
}

function Within({ days, onClear }: { days: number; onClear: () => void }) {
  return (
    <Held>
      come in within <Part onPress={onClear} aria-label={`Stop asking for the last ${days} days`}>{days} days ×</Part>,{" "}
    </Held>
  );
}

type ChooseProps = { label: string; value: string; options: Option[]; onChange: (key: string) => void; after?: string };

function Choose({ label, value, options, onChange, after = "," }: ChooseProps) {
  return (
    <Held>
    <Select aria-label={`Condition on ${label.toLowerCase()}`} selectedKey={value} onSelectionChange={(k) => onChange(String(k))} >
      <Part>
        <SelectValue style={{ display: "inline" }}>{options.find((o) => o.key === value)?.label ?? label.toLowerCase()}</SelectValue>
      </Part>
      <Float>
        <Menu items={options.map((o) => ({ id: o.key, label: o.label }))}>{(o) => <MenuItem>{o.label}</MenuItem>}</Menu>
      </Float>
    </Select>
    {after}
    </Held>
  );
}

function Countries({ chosen, onChange }: { chosen: string[]; onChange: (keys: string[]) => void }) {
  const words = chosen.length ? chosen.map((c) => countryNames.of(c)).join(" or ") : "any country";
  return (
    <Held>
    <DialogTrigger>
      <Part aria-label={`Country: ${words}`}>{words}</Part>
      <Float>
        <Menu aria-label="Countries" selectionMode="multiple" selectedKeys={chosen} onSelectionChange={(keys) => keys !== "all" && onChange([...keys].map(String))} items={served.map((id) => ({ id, label: countryNames.of(id)! }))}>
          {(o: { id: string; label: string }) => <MenuItem>{o.label}</MenuItem>}
        </Menu>
      </Float>
    </DialogTrigger>
    ,
    </Held>
  );
}
