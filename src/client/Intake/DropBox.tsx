import { useState } from "react";
import { DropZone, FileTrigger, type FileDropItem } from "react-aria-components";
import { useNavigate } from "react-router";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useMay } from "../common/session";
import { Button } from "../parts/Button";
import { ErrorNote } from "../parts/States";
import { small } from "../parts/theme";
import { dropLetter, dropList } from "./queries";

const Drop = styled(DropZone)`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 18px;
  padding: 16px 18px;
  margin: 4px 0 26px;
  border: 1px dashed var(--mark);
  border-radius: 3px;
  background: var(--sheet);
  &[data-drop-target] {
    border-color: var(--lamp);
    background: var(--lamp-wash);
  }
  p {
    ${small}
    flex: 1 1 260px;
    min-height: 1.45em;
  }
`;

const usual = "or drop it here. CSV with any separator and encoding, XLSX, vCard, JSON; a million rows and more. Letters (.eml) too.";

type Letter = Schema["LetterResult"];

const letterWords = (letter: Letter) => (letter.again ? "This letter was taken in before." : letter.state === "waiting" ? "The letter waits for your word." : letter.lead ? "The letter stands in its lead's story." : "The letter is kept; it concerns no lead.");

/** Takes a list to the sieve, and a letter to its lead. */
export function DropBox() {
  const may = useMay("runIntake");
  const { send, sending, trouble } = useSending();
  if (!may) return null;
  const words = !sending ? usual : sending.share < 1 ? `Sending ${sending.name}, ${Math.round(sending.share * 100)} %` : `Reading and sifting ${sending.name} …`;
  return (
    <>
      <Drop aria-label="Drop a list here" onDrop={async (e) => send(await (e.items.find((i) => i.kind === "file") as FileDropItem | undefined)?.getFile())}>
        <FileTrigger onSelect={(files) => send(files?.[0])}>
          <Button look="main" isPending={!!sending}>
            Choose a list
          </Button>
        </FileTrigger>
        <p role="status">{words}</p>
      </Drop>
      {trouble && <ErrorNote error={new Error(trouble)} />}
    </>
  );
}

function useSending() {
  const [sending, setSending] = useState<{ name: string; share: number } | null>(null);
  const navigate = useNavigate();
  const act = useAct("here");
  const list = (file: File) => act.run(() => dropList(file, (share) => setSending({ name: file.name, share })), { changes: ["import"], then: (sieve) => void navigate(`/intake/${sieve.import.id}`) });
  const open = (letter: Letter) => {
    if (letter.lead) void navigate(`/leads/${letter.lead}`);
    else if (letter.state === "waiting") void navigate("/intake/waiting");
  };
  const letter = (file: File) => act.run(() => dropLetter(file).then(([only]) => only!), { changes: ["arrivals"], words: letterWords, then: open });
  const send = (file?: File) => {
    if (!file || act.busy) return;
    setSending({ name: file.name, share: 0 });
    void (/\.eml$/i.test(file.name) ? letter(file) : list(file)).finally(() => setSending(null));
  };
  return { send, sending, trouble: act.any };
}
