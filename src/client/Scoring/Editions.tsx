import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, must } from "../api/client";
import { Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { moment } from "../parts/format";
import { Skeleton, Trouble } from "../parts/States";
import { tell, tellTrouble } from "../parts/Toast";
import { useSession } from "../Setup/session";
import { useEditions } from "./queries";
import type { Draft } from "./useDraft";

const states: Record<string, string> = { draft: "draft", live: "live", old: "" };

/** All editions: what each was for, its file, and the way back to it. */
export function Editions({ draft, maySetUp }: { draft: Draft; maySetUp: boolean }) {
  const editions = useEditions();
  const { timeZone } = useSession();
  const client = useQueryClient();
  const [asked, setAsked] = useState<number>();
  const [left, setLeft] = useState<string[]>([]);
  const file = useRef<HTMLInputElement>(null);
  if (editions.isPending) return <Skeleton />;
  if (editions.isError) return <Trouble error={editions.error} />;
  const back = async (number: number) => {
    try {
      client.setQueryData(["scoring"], await must(api.POST("/api/scoring/editions/{number}/publish", { params: { path: { number } } })));
      await client.invalidateQueries();
      tell(`The model of edition ${number} is live again`);
    } catch (e) {
      tellTrouble(e);
    }
    setAsked(undefined);
  };
  const read = async (chosen: File | undefined) => {
    if (!chosen) return;
    try {
      const problems = await draft.read(await chosen.text());
      setLeft(problems.map((p) => (p.path ? `${p.path}: ${p.words ?? ""}` : (p.words ?? ""))));
      await client.invalidateQueries({ queryKey: ["scoring"] });
      tell(problems.length === 0 ? "The file is the draft now" : "The file is the draft now, without what could not be read");
    } catch (e) {
      tellTrouble(e);
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
          {editions.data.map((e) => (
            <tr key={e.number}>
              <td>
                <b>{e.number}</b> {states[e.state]}
              </td>
              <td>{e.publishedAt ? moment(e.publishedAt, timeZone) : ""}</td>
              <td>{e.by}</td>
              <td>{e.note}</td>
              <td style={{ textAlign: "right", whiteSpace: "nowrap" }}>
                <a href={`/api/scoring/editions/${e.number}/file`} download>
                  File
                </a>{" "}
                {maySetUp && e.state === "old" && (asked === e.number ? (
                  <Button look="bad" onPress={() => void back(e.number)}>
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
      {maySetUp && (
        <div style={{ marginTop: 16 }}>
          <input ref={file} type="file" accept=".json,application/json" hidden onChange={(e) => void read(e.target.files?.[0])} aria-label="A model from a file" />
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
