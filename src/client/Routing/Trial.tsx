import { useState } from "react";
import { FileTrigger } from "react-aria-components";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { upload } from "../api/upload";
import { useAct } from "../common/acting";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { whole } from "../parts/format";
import { Row } from "../parts/Layout";
import { Skeleton } from "../parts/States";
import { Soft, Wrong } from "../parts/Words";
import { Played } from "./Played";
import { usePlay } from "./queries";
import type { Names, Sheet } from "./sheet";
import { TryLead } from "./TryLead";

const Parts = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 28px;
  .ask {
    width: 220px;
  }
`;

const lasts = [500, 2000, 10_000, 100_000];

type Play = Schema["PlayView"];
type Props = { sheet: Sheet; isDraft: boolean; names: Names };

/** The last leads, or those of a list, played through the sheet: who would get what, against who got it or would by the live sheet; and one lead at a time. */
export function Trial({ sheet, isDraft, names }: Props) {
  return (
    <Parts>
      <TryLead sheet={sheet} names={names} />
      <List sheet={sheet} isDraft={isDraft} />
      <Last sheet={sheet} isDraft={isDraft} />
    </Parts>
  );
}

type PartProps = Omit<Props, "names">;

function Last({ sheet, isDraft }: PartProps) {
  const [last, setLast] = useState(2000);
  const play = usePlay(sheet, last);
  return (
    <section aria-label="The last leads again">
      <h2>The last leads again</h2>
      <div className="ask">
        <ChoiceBox label="How many" value={String(last)} options={lasts.map((n) => ({ key: String(n), label: `the last ${whole(n)}` }))} onChange={(n) => setLast(Number(n))} />
      </div>
      {play.isPending && <Skeleton />}
      {play.isError && <Wrong>{play.error.message}</Wrong>}
      {play.data && <Played play={play.data} sheet={sheet} isDraft={isDraft} />}
    </section>
  );
}

function List({ sheet, isDraft }: PartProps) {
  const [file, setFile] = useState<File>();
  const [tried, setTried] = useState<Play>();
  const act = useAct("here");
  const ask = (chosen: File) => {
    setTried(undefined);
    void act.run(() => upload<Play>("/api/routing/trial/list", "file", chosen, undefined, { sheet: JSON.stringify(sheet) }), { changes: [], then: setTried });
  };
  const choose = (chosen?: File) => chosen && (setFile(chosen), ask(chosen));
  return (
    <section aria-label="A list">
      <h2>A list</h2>
      <Row $gap={3}>
        <FileTrigger onSelect={(files) => choose(files?.[0])}>
          <Button isPending={act.busy}>Choose a list to try</Button>
        </FileTrigger>
        {file && (
          <Button look="quiet" isPending={act.busy} onPress={() => ask(file)}>
            Try {file.name} again
          </Button>
        )}
        <Soft>Each row as if it were somebody new. Nothing is kept.</Soft>
      </Row>
      {act.any && <Wrong>{act.any}</Wrong>}
      {act.busy && <Skeleton rows={3} />}
      {tried && <Played play={tried} sheet={sheet} isDraft={isDraft} isList />}
    </section>
  );
}
