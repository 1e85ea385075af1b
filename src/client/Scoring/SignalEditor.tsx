import styled from "styled-components";
import type { Schema } from "../api/client";
import { NumberBox } from "../common/NumberBox";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { points } from "../parts/format";
import { Row } from "../parts/Layout";
import { Said } from "../parts/Said";
import { Tick } from "../parts/Ticks";
import { Hint, Text } from "../parts/Words";
import { moved, put, said, without, type Finding, type Model, type Signal } from "./model";

const Grid = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
  margin-bottom: 12px;
  .wide {
    grid-column: 1 / 3;
  }
`;

const Told = styled.dl`
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 14px;
  font-size: 14px;
  margin-bottom: 12px;
  dt {
    color: var(--soft);
  }
`;

const directions = [
  { key: "-", label: "either way" },
  { key: "in", label: "they came to us" },
  { key: "out", label: "we went to them" },
];

type Props = { model: Model; at: number; findings: readonly Finding[]; worth?: Schema["SignalWorth"]; kinds: readonly Schema["ChoiceView"][]; campaignKinds: readonly Schema["ChoiceView"][]; onChange?: (model: Model) => void; onGone: () => void };

/** One signal: what it answers to, what it gives, and how that fades. */
export function SignalEditor({ model, at, findings, worth, kinds, campaignKinds, onChange, onGone }: Props) {
  const signal = model.engagement[at];
  if (!signal) return null;
  const set = onChange && ((next: Partial<Signal>) => onChange({ ...model, engagement: put(model.engagement, at, { ...signal, ...next }) }));
  const leave = (engagement: Signal[]) => {
    onGone();
    onChange?.({ ...model, engagement });
  };
  return (
    <>
      {set ? <Fields key={at} signal={signal} kinds={kinds} campaignKinds={campaignKinds} onSet={set} /> : <Reading signal={signal} />}
      <Said findings={said(findings, `engagement/${at}`)} />
      {worth && worth.share.count > 0 && (
        <Text>
          Of {worth.share.count} who still had some of it left, {worth.share.won} were won: {worth.lift.toFixed(1)} times the usual.
        </Text>
      )}
      {onChange && (
        <Row $gap={4} $above={3}>
          {at > 0 && (
            <Button look="inline" onPress={() => leave(moved(model.engagement, at, at - 1))}>
              Up
            </Button>
          )}
          <Button look="inline" onPress={() => leave(without(model.engagement, at))}>
            Remove this signal
          </Button>
        </Row>
      )}
      <Hint $above={3}>An event counts for the first signal that fits it. {model.saturatesFrom < 100 && `Over ${model.saturatesFrom} together, more counts for less.`}</Hint>
    </>
  );
}

type FieldsProps = Pick<Props, "kinds" | "campaignKinds"> & { signal: Signal; onSet: (next: Partial<Signal>) => void };

const any = "-";

function Fields({ signal, kinds, campaignKinds, onSet }: FieldsProps) {
  return (
    <Grid>
      <div className="wide">
        <TextBox label="Name" value={signal.label} onChange={(label) => onSet({ label })} />
      </div>
      <div className="wide">
        <TextBox label="Kind of event" value={signal.kind} onChange={(kind) => onSet({ kind: kind.trim() })} hint={kinds.length > 0 ? `seen so far: ${kinds.map((k) => k.key).slice(0, 6).join(", ")} …` : undefined} />
      </div>
      <NumberBox label="Points at the moment it happens" shown="Points" value={signal.points} least={-100} most={100} onChange={(value) => onSet({ points: value })} />
      <NumberBox label="Halves in days" shown="Halves in (days)" value={signal.halfLifeDays} least={0.01} most={3650} onChange={(halfLifeDays) => onSet({ halfLifeDays })} />
      <NumberBox label="Most points together" shown="At most together" value={signal.cap} least={0.1} most={1000} onChange={(cap) => onSet({ cap })} />
      <NumberBox label="Days the cap holds over" shown="within (days)" value={signal.windowDays} least={0.1} most={3650} onChange={(windowDays) => onSet({ windowDays })} />
      <div className="wide">
        <TextBox label="Only pages, forms or assets like" value={signal.pattern} onChange={(pattern) => onSet({ pattern })} hint="* stands for anything; blank for all" />
      </div>
      <ChoiceBox label="Who began it" value={signal.direction || any} options={directions} onChange={(key) => onSet({ direction: key === any ? "" : key })} />
      <ChoiceBox label="Kind of campaign" value={signal.campaignKind || any} options={[{ key: any, label: "any or none" }, ...campaignKinds]} onChange={(key) => onSet({ campaignKind: key === any ? "" : key })} />
      <div className="wide">
        <Tick value={signal.once} onChange={(once) => onSet({ once })}>
          only the first one counts
        </Tick>
      </div>
    </Grid>
  );
}

function Reading({ signal }: { signal: Signal }) {
  return (
    <Told>
      <dt>Gives</dt>
      <dd>{points(signal.points)} when it happens</dd>
      <dt>Halves in</dt>
      <dd>{signal.halfLifeDays} days</dd>
      <dt>At most</dt>
      <dd>
        {signal.cap} in {signal.windowDays} days{signal.once ? ", and only the first one" : ""}
      </dd>
      {signal.pattern && (
        <>
          <dt>Only</dt>
          <dd>{signal.pattern}</dd>
        </>
      )}
    </Told>
  );
}
