import { NumberBox } from "../common/NumberBox";
import { TextBox } from "../parts/Field";
import { points } from "../parts/format";
import { Said } from "../parts/Said";
import { Part, type AroundProps as Props } from "./AroundPart";
import { Groups } from "./Groups";
import { said, type Model } from "./model";
import { Vetoes } from "./Vetoes";

/** What holds for all leads: the bars, what saturates, silence, caps for several criteria, and the leads that are ruled out. */
export function AroundEditor(props: Props) {
  return (
    <>
      <Said findings={said(props.findings, "")} />
      <Bars {...props} />
      <Fading {...props} />
      <Vetoes {...props} />
      <Groups {...props} />
      <Names {...props} />
    </>
  );
}

function Bars({ model, findings, onChange }: Props) {
  const set = (bars: Partial<Model["bars"]>) => onChange?.({ ...model, bars: { ...model.bars, ...bars } });
  return (
    <Part>
      <h3>Bars</h3>
      {onChange ? (
        <div className="pair">
          <NumberBox label="Bar of fit" shown="Fit" value={model.bars.fit} least={0} most={100} whole onChange={(fit) => set({ fit })} />
          <NumberBox label="Bar of engagement" shown="Engagement" value={model.bars.engagement} least={0} most={100} whole onChange={(engagement) => set({ engagement })} />
          <NumberBox label="Slack under a bar" shown="Slack" value={model.bars.slack} least={0} most={30} whole onChange={(slack) => set({ slack })} />
        </div>
      ) : (
        <p>
          Fit {model.bars.fit}, engagement {model.bars.engagement}.
        </p>
      )}
      <p>Who has cleared a bar keeps it until {model.bars.slack} points below, so that nobody flickers.</p>
      <Said findings={said(findings, "bars")} />
    </Part>
  );
}

function Fading({ model, findings, onChange }: Props) {
  return (
    <Part>
      <h3>Saturation and silence</h3>
      {onChange ? (
        <div className="pair">
          <NumberBox label="Engagement saturates from" shown="Saturates from" value={model.saturatesFrom} least={0} most={100} onChange={(saturatesFrom) => onChange({ ...model, saturatesFrom })} />
          <span />
          <NumberBox label="Days of silence" shown="Silent for (days)" value={model.silence?.days ?? 90} least={1} most={3650} whole onChange={(days) => onChange({ ...model, silence: { days, points: model.silence?.points ?? 0 } })} />
          <NumberBox label="Points of silence" shown="Points" value={model.silence?.points ?? 0} least={-100} most={100} onChange={(value) => onChange({ ...model, silence: value === 0 ? null : { days: model.silence?.days ?? 90, points: value } })} />
        </div>
      ) : (
        <p>
          Up to {model.saturatesFrom} points add up; above, each further one counts for less. {model.silence && `Silent for ${model.silence.days} days: ${points(model.silence.points)}.`}
        </p>
      )}
      <Said findings={said(findings, "silence")} />
    </Part>
  );
}

const quarters = [
  ["handOver", "Fit and engaged"],
  ["nurture", "Fit, not engaged"],
  ["check", "Engaged, does it fit?"],
  ["park", "Neither"],
] as const;

function Names({ model, findings, onChange }: Props) {
  return (
    <Part>
      <h3>What the quarters are called</h3>
      {onChange ? (
        <div className="pair">
          {quarters.map(([key, label]) => (
            <TextBox key={key} label={label} value={model.names[key]} onChange={(name) => onChange({ ...model, names: { ...model.names, [key]: name } })} />
          ))}
        </div>
      ) : (
        <p>{quarters.map(([key]) => model.names[key]).join(", ")}</p>
      )}
      <Said findings={said(findings, "names")} />
    </Part>
  );
}
