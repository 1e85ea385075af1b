import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { Notice } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { Block } from "../parts/Layout";
import type { Change } from "./queries";
import { encodings } from "./reading";

type Sieve = Schema["SieveView"];
type Props = { sieve: Sieve; mayChange: boolean; busy: boolean; change: Change };

/** What is to be settled or known before an import is taken in. */
export function SieveNotices({ sieve, mayChange, busy, change }: Props) {
  const { import: imported } = sieve;
  const open = imported.state === "sifted" || imported.state === "taken_back";
  return (
    <>
      {mayChange && sieve.reading.doubt && <Doubt sieve={sieve} change={change} busy={busy} />}
      {mayChange && imported.source === "" && <Whence sieve={sieve} change={change} busy={busy} />}
      {sieve.sameFileAs && open && (
        <Notice>
          <b>The same file was taken in before:</b> {sieve.sameFileAs}. Taking it in again would make no lead twice.
        </Notice>
      )}
      {imported.trouble && (
        <Notice role="alert">
          <b>The work stopped.</b> {imported.trouble}
        </Notice>
      )}
    </>
  );
}

type AskProps = Omit<Props, "mayChange">;

function Whence({ sieve, change, busy }: AskProps) {
  const { import: imported, constants, policies } = sieve;
  return (
    <Notice>
      <b>Where does this list come from?</b> Its name does not say, and what it counts as follows from it.
      <Block $width={320} $above={2}>
        <ChoiceBox
          hideLabel
          label="Where this list comes from"
          value={null}
          placeholder="choose before you take it in"
          options={sieve.choices.sources.map((s) => ({ key: s.key, label: s.countsAs ? `${s.label}: ${s.countsAs}` : s.label }))}
          isDisabled={busy}
          onChange={(source) => change(() => must(api.PUT("/api/imports/{id}/terms", { params: { path: { id: imported.id } }, body: { source, constants, policies } })))}
        />
      </Block>
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

/** Two readings of the same letters, side by side, where they do not tell which is meant. */
function Doubt({ sieve, change, busy }: AskProps) {
  const { reading, import: imported } = sieve;
  const doubt = reading.doubt!;
  const read = (encoding: string) =>
    change(() => must(api.PUT("/api/imports/{id}/reading", { params: { path: { id: imported.id } }, body: { encoding, separator: reading.separator, sheet: reading.sheet, headingRow: reading.headingRow } })));
  const ways: [string, string][] = [
    [reading.encoding, doubt.sample],
    [doubt.other, doubt.otherSample],
  ];
  return (
    <Notice>
      <b>Which of these is spelt right?</b> The letters of the file can be read in two ways.
      <Ways>
        {ways.map(([encoding, sample]) => (
          <div key={encoding}>
            <p dir="auto">{sample}</p>
            <Button isDisabled={busy} onPress={() => read(encoding)}>
              {encodings[encoding] ?? encoding}
            </Button>
          </div>
        ))}
      </Ways>
    </Notice>
  );
}
