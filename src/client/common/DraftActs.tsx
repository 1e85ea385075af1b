import { useState, type ReactNode } from "react";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { count } from "../parts/format";
import { Row } from "../parts/Layout";
import { Hint, Text } from "../parts/Words";
import { useAct } from "./acting";

type Draft = {
  note: string;
  state: "kept" | "keeping" | "stale";
  canUndo: boolean;
  setNote: (note: string) => unknown;
  undo: () => void;
  takeTheirs: () => Promise<unknown>;
  publish: () => Promise<unknown>;
  drop: () => Promise<unknown>;
};

type Props = {
  draft: Draft;
  /** The number the edition would have. */
  number: number;
  /** False while it is not yet known what is wrong with the draft. */
  isChecked: boolean;
  /** How much is to be mended before it can go live. */
  toMend: number;
  publishWords?: string;
  /** Said once it is live. */
  published?: string;
  /** What it would change. */
  children: ReactNode;
};

// What a draft changes is shown by its own queries.
const nothing = { changes: [] } as const;

/** What is done with a kept draft: published as an edition, undone step by step, dropped; or taken over where somebody else changed it. */
export function DraftActs({ draft, number, isChecked, toMend, publishWords = `Publish as edition ${number}`, published = `Edition ${number} is live`, children }: Props) {
  const act = useAct();
  if (draft.state === "stale")
    return (
      <>
        <Text $below={3}>Somebody else changed the draft meanwhile. What you see here was not kept.</Text>
        <Button look="main" isPending={act.busy} onPress={() => void act.run(draft.takeTheirs, { ...nothing, words: "This is the draft as it is now" })}>
          Show theirs
        </Button>
      </>
    );
  return (
    <>
      {children}
      <TextBox label="What it is for" value={draft.note} onChange={draft.setNote} />
      <Row $above={3} $gap={3}>
        <Button look="main" isPending={act.busy} isDisabled={!isChecked || toMend > 0} onPress={() => void act.run(draft.publish, { ...nothing, words: published })}>
          {publishWords}
        </Button>
        {draft.canUndo && (
          <Button look="quiet" onPress={draft.undo}>
            Undo
          </Button>
        )}
        <Drop onDrop={() => void act.run(draft.drop, { ...nothing, words: "The draft is gone" })} />
      </Row>
      <Hint role="status" $above={3}>
        {toMend > 0 ? `${count(toMend, "thing")} to mend before it can go live.` : draft.state === "keeping" ? "Keeping …" : "The draft is kept. Nothing goes live before you publish it."}
      </Hint>
    </>
  );
}

function Drop({ onDrop }: { onDrop: () => void }) {
  const [sure, setSure] = useState(false);
  return sure ? (
    <Button look="bad" onPress={onDrop}>
      Yes, drop it
    </Button>
  ) : (
    <Button look="quiet" onPress={() => setSure(true)}>
      Drop the draft
    </Button>
  );
}
