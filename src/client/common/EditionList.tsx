import { useRef, useState } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { moment } from "../parts/format";
import { Block, Row } from "../parts/Layout";
import { tell } from "../parts/Toast";
import { useAct } from "./acting";
import { useSession } from "./session";

const Faults = styled.ul`
  margin-top: 12px;
  font-size: 14px;
  color: var(--bad);
`;

const states: Record<string, string> = { draft: "draft", live: "live", old: "" };

type Problem = { path: string; words?: string | null };

type Edition = Schema["EditionLine"];

type Props = {
  editions: readonly Edition[];
  /** The files of an edition: what they are called and where they are. */
  files: (number: number) => { label: string; href: string }[];
  /** Makes an old one live again; nothing where that is not allowed. */
  onBack?: (number: number) => Promise<unknown>;
  /** Reads a chosen file into the draft, and gives what could not be read; nothing where that is not allowed. */
  onRead?: (file: File) => Promise<readonly Problem[]>;
  /** Endings of the files that can be read. */
  accept: string;
};

/** All editions: what each was for, its file, and the way back to it. */
export function EditionList({ editions, files, onBack, onRead, accept }: Props) {
  return (
    <>
      <DataTable label="Editions" hasButtons head={["Edition", "Live since", "By", "What it was for", { label: "Files and the way back", isUnseen: true }]}>
        {editions.map((e) => (
          <EditionRow key={e.number} edition={e} files={files(e.number)} onBack={onBack} />
        ))}
      </DataTable>
      {onRead && <ReadFile onRead={onRead} accept={accept} />}
    </>
  );
}

function EditionRow({ edition, files, onBack }: { edition: Edition; files: { label: string; href: string }[]; onBack: Props["onBack"] }) {
  const { timeZone } = useSession();
  const [isAsked, setAsked] = useState(false);
  const { run, busy } = useAct();
  const { number } = edition;
  // The draft's door asks again for all that an edition changes.
  const back = async () => {
    await run(() => onBack!(number), { changes: [], words: `Edition ${number} is live again` });
    setAsked(false);
  };
  return (
    <tr>
      <td>
        <b>{number}</b> {states[edition.state]}
      </td>
      <td>{edition.publishedAt ? moment(edition.publishedAt, timeZone) : ""}</td>
      <td>{edition.by}</td>
      <td>{edition.note}</td>
      <td>
        <Row $gap={3} $end>
          {files.map((f) => (
            <a key={f.label} href={f.href} download aria-label={`Edition ${number}, ${f.label}`}>
              {f.label}
            </a>
          ))}
          {onBack &&
            edition.state === "old" &&
            (isAsked ? (
              <Button look="bad" isPending={busy} onPress={() => void back()}>
                Yes, make it live
              </Button>
            ) : (
              <Button look="quiet" onPress={() => setAsked(true)}>
                Go back to it
              </Button>
            ))}
        </Row>
      </td>
    </tr>
  );
}

function ReadFile({ onRead, accept }: { onRead: NonNullable<Props["onRead"]>; accept: string }) {
  const [faults, setFaults] = useState<string[]>([]);
  const { run, busy } = useAct();
  const file = useRef<HTMLInputElement>(null);
  const read = async (chosen: File | undefined) => {
    if (!chosen) return;
    await run(() => onRead(chosen), {
      changes: [],
      then: (problems) => {
        setFaults(problems.map((p) => (p.path ? `${p.path}: ${p.words ?? ""}` : (p.words ?? ""))));
        tell(problems.length === 0 ? "The file is the draft now" : "The file is the draft now, without what could not be read");
      },
    });
    if (file.current) file.current.value = "";
  };
  return (
    <Block $above={4}>
      <input ref={file} type="file" accept={accept} hidden onChange={(e) => void read(e.target.files?.[0])} aria-label="A draft from a file" />
      <Button isPending={busy} onPress={() => file.current?.click()}>
        Read a draft from a file
      </Button>
      {faults.length > 0 && (
        <Faults>
          {faults.map((f) => (
            <li key={f}>{f}</li>
          ))}
        </Faults>
      )}
    </Block>
  );
}
