import { useState } from "react";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { useRefresh } from "../Setup/session";

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

const encodings: Record<string, string> = { "utf-8": "UTF-8", "utf-16": "UTF-16", "utf-16BE": "UTF-16, big-endian", "windows-1252": "Windows-1252", "iso-8859-1": "ISO 8859-1", "iso-8859-15": "ISO 8859-15", "windows-1250": "Windows-1250", "windows-1251": "Windows-1251" };
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
      await must(api.PUT("/api/deliveries/{id}/reading", { params: { path: { id: sieve.delivery.id } }, body: { encoding: to.encoding, separator: to.separator, sheet: to.sheet, headingRow: row.trim() ? Number(row) || 0 : null } }));
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
