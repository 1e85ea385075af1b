import { useState } from "react";
import { useAct } from "../common/acting";
import { Button } from "../parts/Button";
import { TextBox } from "../parts/Field";
import { Row, Stack } from "../parts/Layout";
import { Hint, Wrong } from "../parts/Words";
import { askActs, type KnownView } from "./queries";

/** A record that is known and not seen here: with whom it is, and the way to ask for it. */
export function Known({ known }: { known: KnownView }) {
  const [isAsking, setAsking] = useState(false);
  const [asked, setAsked] = useState(known.asked);
  return (
    <div>
      <Row $gap={2} $align="baseline">
        <span>{known.words}</span>
        {asked ? (
          <Hint as="span">You asked for it.</Hint>
        ) : (
          !isAsking && (
            <Button look="quiet" onPress={() => setAsking(true)}>
              Ask for it
            </Button>
          )
        )}
      </Row>
      {isAsking && <Asking known={known} onAsked={() => (setAsked(true), setAsking(false))} onClose={() => setAsking(false)} />}
    </div>
  );
}

// No form of its own: it stands within the form in which the record is made.
function Asking({ known, onAsked, onClose }: { known: KnownView; onAsked: () => void; onClose: () => void }) {
  const act = useAct("here");
  const [word, setWord] = useState("");
  const ask = () => void act.run(() => askActs.ask(known.id, word), { changes: ["asks"], words: "Asked. The answer comes to you as a message.", then: onAsked });
  return (
    <Stack $gap={2} $above={2}>
      <TextBox label="What you want it for" value={word} onChange={setWord} error={act.said("word")} autoFocus />
      {act.whole("word") && <Wrong>{act.whole("word")}</Wrong>}
      <Row $gap={2}>
        <Button isPending={act.busy} onPress={ask}>
          Ask
        </Button>
        <Button look="quiet" onPress={onClose}>
          Leave it
        </Button>
      </Row>
    </Stack>
  );
}
