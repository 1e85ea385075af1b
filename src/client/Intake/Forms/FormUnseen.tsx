import type { Schema } from "../../api/client";
import { TextBox } from "../../parts/Field";
import { Tick } from "../../parts/Ticks";
import { Pair } from "./FormWords";
import type { Sheet } from "./queries";
import { labelsOf } from "./words";

type Props = { draft: Sheet; problems: Schema["DraftProblem"][]; onDraft: (draft: Sheet) => void };

/** What a post brings along unseen, and what keeps machines away. */
export function FormUnseen({ draft, problems, onDraft }: Props) {
  return (
    <Pair>
      <TextBox
        label="Labels"
        hint="Beside page, referrer, campaign and utm_…, which always come."
        value={draft.labels.join(", ")}
        onChange={(text) => onDraft({ ...draft, labels: labelsOf(text) })}
        error={problems.find((p) => p.path.startsWith("labels"))?.sentence}
      />
      <TextBox
        label="Least seconds a person takes"
        hint="Who is faster waits for you."
        value={String(draft.minimumSeconds)}
        onChange={(s) => /^\d{0,3}$/.test(s) && onDraft({ ...draft, minimumSeconds: Number(s) })}
        error={problems.find((p) => p.path === "minimumSeconds")?.sentence}
      />
      <div className="wide">
        <Tick value={draft.asksSum} onChange={(asksSum) => onDraft({ ...draft, asksSum })}>
          Ask a small sum, which most machines do not answer
        </Tick>
      </div>
    </Pair>
  );
}
