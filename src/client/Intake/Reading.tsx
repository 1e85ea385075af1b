import { useState } from "react";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Notice } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { useRefresh } from "../common/session";
import type { Change } from "./queries";

const Row = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 12px;
  align-items: start;
  padding: 12px 14px;
  margin-bottom: 14px;
  border: 1px solid var(--hair);
  border-radius: 3px;
  background: var(--paper);
`;

const encodings: Record<string, string> = { "utf-8": "UTF-8", "utf-16": "UTF-16", "utf-16BE": "UTF-16, big-endian", "windows-1252": "Windows-1252", "iso-8859-1": "ISO 8859-1", "iso-8859-15": "ISO 8859-15", "windows-1250": "Windows-1250", "windows-1251": "Windows-1251", "iso-8859-2": "ISO 8859-2", "koi8-r": "KOI8-R", "koi8-u": "KOI8-U", macintosh: "Mac Roman", shift_jis: "Shift JIS", gb18030: "GB 18030", big5: "Big5", "euc-jp": "EUC-JP", "euc-kr": "EUC-KR" };
/** Two readings of the same letters, side by side, where they do not tell which is meant. */
export function Doubt({ sieve, change, busy }: { sieve: Schema["SieveView"]; change: Change; busy: boolean }) {
  const { reading, import: imported } = sieve;
  const { doubt } = reading;
  if (!doubt) return null;
  const read = (encoding: string) =>
    change(() => must(api.PUT("/api/imports/{id}/reading", { params: { path: { id: imported.id } }, body: { encoding, separator: reading.separator, sheet: reading.sheet, headingRow: reading.headingRow } })));
  return (
    <Notice>
      <b>Which of these is spelt right?</b> The letters of the file can be read in two ways.
      <Ways>
        {[
          [reading.encoding, doubt.sample],
          [doubt.other, doubt.otherSample],
        ].map(([encoding, sample]) => (
          <div key={encoding}>
            <p dir="auto">{sample}</p>
            <Button isDisabled={busy} onPress={() => read(encoding!)}>
              {encodings[encoding!] ?? encoding}
            </Button>
          </div>
        ))}
      </Ways>
    </Notice>
  );
}

const Ways = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 20px;
  margin-top: 8px;
  p {
    font-weight: 600;
    overflow-wrap: anywhere;
    margin-bottom: 6px;
  }
`;

const separators: Record<string, string> = { ",": "comma", ";": "semicolon", "\t": "tab", "|": "bar", ":": "colon", " ": "space" };
const formats: Record<string, string> = { vcard: "Cards", json: "JSON", "json-lines": "JSON, a record a line" };

/** How the file was read, in words. */
export function readingWords({ format, encoding, separator, sheet, headingRow, sheets }: Schema["ListReading"]) {
  const hidden = sheets?.filter((s) => s.hidden).length ?? 0;
  const parts = [
    format === "workbook" ? `Sheet \u201c${sheet}\u201d of ${sheets?.length ?? 1}${hidden ? `, ${hidden} of them hidden` : ""}` : (formats[format] ?? encodings[encoding] ?? encoding),
    format === "separated" && `separated by ${separators[separator] ?? `\u201c${separator}\u201d`}`,
    (format === "separated" || format === "workbook") && (headingRow === 0 ? "no headings" : `headings in row ${headingRow}`),
  ];
  return parts.filter(Boolean).join(", ");
}

/** Reading the file in another way: encoding, separator, sheet, heading row. */
export function Reading({ sieve, onDone }: { sieve: Schema["SieveView"]; onDone: () => void }) {
  const [to, setTo] = useState(sieve.reading);
  const [row, setRow] = useState(String(sieve.reading.headingRow));
  const [error, setError] = useState<string>();
  const [busy, setBusy] = useState(false);
  const refresh = useRefresh();
  const send = async () => {
    setBusy(true);
    setError(undefined);
    try {
      await must(api.PUT("/api/imports/{id}/reading", { params: { path: { id: sieve.import.id } }, body: { encoding: to.encoding, separator: to.separator, sheet: to.sheet, headingRow: row.trim() ? Number(row) || 0 : null } }));
      await refresh();
      onDone();
    } catch (e) {
      setError(e instanceof Error ? e.message : String(e));
    } finally {
      setBusy(false);
    }
  };
  const known = Object.keys(separators);
  return (
    <Row role="group" aria-label="How the file is read">
      {to.encoding && <ChoiceBox label="Encoding" value={to.encoding} options={sieve.choices.encodings.map((e) => ({ key: e, label: encodings[e] ?? e }))} onChange={(encoding) => setTo({ ...to, encoding })} />}
      {to.separator && <ChoiceBox label="Separator" value={to.separator} options={[...new Set([...known, to.separator])].map((s) => ({ key: s, label: separators[s] ?? s }))} onChange={(separator) => setTo({ ...to, separator })} />}
      {to.sheet && <ChoiceBox label="Sheet" value={to.sheet} options={(to.sheets ?? []).map((s) => ({ key: s.name, label: s.hidden ? `${s.name} (hidden)` : s.name }))} onChange={(sheet) => (setTo({ ...to, sheet }), setRow(""))} />}
      {(to.separator || to.sheet) && <TextBox label="Heading row" hint="0 for none; blank to find it" value={row} onChange={setRow} inputMode="numeric" error={error} />}
      <div style={{ display: "flex", gap: 8, marginTop: 22 }}>
        <Button look="main" isDisabled={busy} onPress={() => void send()}>
          {busy ? "Reading …" : "Read so"}
        </Button>
        <Button onPress={onDone}>Cancel</Button>
      </div>
    </Row>
  );
}
