import { useRef, useState } from "react";
import type { Schema } from "../api/client";
import { useSession } from "./session";
import { Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { moment } from "../parts/format";
import { tell, tellError } from "../parts/Toast";

const states: Record<string, string> = { draft: "draft", live: "live", old: "" };

type Problem = { path: string; words?: string | null };

type Props = {
  editions: readonly Schema["EditionLine"][];
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
  const { timeZone } = useSession();
  const [asked, setAsked] = useState<number>();
  const [busy, setBusy] = useState(false);
  const [left, setLeft] = useState<string[]>([]);
  const file = useRef<HTMLInputElement>(null);
  const back = async (number: number) => {
    setBusy(true);
    try {
      await onBack?.(number);
      tell(`Edition ${number} is live again`);
    } catch (e) {
      tellError(e);
    }
    setBusy(false);
    setAsked(undefined);
  };
  const read = async (chosen: File | undefined) => {
    if (!chosen) return;
    try {
      const problems = (await onRead?.(chosen)) ?? [];
      setLeft(problems.map((p) => (p.path ? `${p.path}: ${p.words ?? ""}` : (p.words ?? ""))));
      tell(problems.length === 0 ? "The file is the draft now" : "The file is the draft now, without what could not be read");
    } catch (e) {
      tellError(e);
    }
    if (file.current) file.current.value = "";
  };
  return (
    <>
      <Table $middle>
        <thead>
          <tr>
            <th>Edition</th>
            <th>Live since</th>
            <th>By</th>
            <th>What it was for</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {editions.map((e) => (
            <tr key={e.number}>
              <td>
                <b>{e.number}</b> {states[e.state]}
              </td>
              <td>{e.publishedAt ? moment(e.publishedAt, timeZone) : ""}</td>
              <td>{e.by}</td>
              <td>{e.note}</td>
              <td style={{ textAlign: "right", whiteSpace: "nowrap" }}>
                {files(e.number).map((f) => (
                  <a key={f.label} href={f.href} download aria-label={`Edition ${e.number}, ${f.label}`} style={{ marginLeft: 10 }}>
                    {f.label}
                  </a>
                ))}{" "}
                {onBack && e.state === "old" && (asked === e.number ? (
                  <Button look="bad" isPending={busy} onPress={() => void back(e.number)}>
                    Yes, make it live
                  </Button>
                ) : (
                  <Button look="quiet" onPress={() => setAsked(e.number)}>
                    Go back to it
                  </Button>
                ))}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {onRead && (
        <div style={{ marginTop: 16 }}>
          <input ref={file} type="file" accept={accept} hidden onChange={(e) => void read(e.target.files?.[0])} aria-label="A draft from a file" />
          <Button onPress={() => file.current?.click()}>Read a draft from a file</Button>
          {left.length > 0 && (
            <ul style={{ marginTop: 12, fontSize: 14, color: "var(--bad)" }}>
              {left.map((l) => (
                <li key={l}>{l}</li>
              ))}
            </ul>
          )}
        </div>
      )}
    </>
  );
}
