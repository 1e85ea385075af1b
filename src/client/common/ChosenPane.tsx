import type { ReactNode } from "react";
import { Button } from "../parts/Button";
import { Block } from "../parts/Layout";
import { WhyPane } from "../parts/WhyPane";

/** What the side of a kept draft shows of the part that is chosen. */
export type ChosenPart = { title: string; body: ReactNode };

const ofDraft = "What this draft would change";

type Props = {
  chosen: ChosenPart | undefined;
  onClose: () => void;
  /** What the draft would change; nothing where there is none. */
  draft: ReactNode | null;
  /** Where nothing is chosen and there is no draft. */
  children: ReactNode;
};

/** At the right of what is kept as a draft: the part that is chosen, what the draft would change, or what is said without either. */
export function ChosenPane({ chosen, onClose, draft, children }: Props) {
  if (chosen)
    return (
      <WhyPane title={chosen.title}>
        {chosen.body}
        <Block as="p" $above={4}>
          <Button look="inline" onPress={onClose}>
            {draft ? ofDraft : "Close"}
          </Button>
        </Block>
      </WhyPane>
    );
  return draft ? <WhyPane title={ofDraft}>{draft}</WhyPane> : children;
}
