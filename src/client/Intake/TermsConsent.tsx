import { useEffect, useState } from "react";
import styled from "styled-components";
import type { Schema } from "../api/client";
import { Button } from "../parts/Button";
import { DayBox } from "../parts/DayBox";
import { ChoiceBox, TextBox } from "../parts/Field";

const Set = styled.fieldset`
  border: 0;
  padding: 0;
  margin: 0;
  min-width: 0;
  display: grid;
  gap: 8px;
`;

const none = "–";

type Props = { sieve: Schema["SieveView"]; fixed: boolean; onOpen: (why: string | undefined) => void; onChange: (consent: Schema["ConsentGiven"] | null) => void };

/** The consent that holds for all rows: its purpose, its words and its day. */
export function TermsConsent({ sieve, fixed, onOpen, onChange }: Props) {
  const now = sieve.constants.consent;
  const [purpose, setPurpose] = useState(now?.purpose ?? none);
  const [wording, setWording] = useState(now?.wording ?? "");
  const [on, setOn] = useState((now?.at ?? sieve.import.createdAt).slice(0, 10));
  const changed = purpose !== (now?.purpose ?? none) || (purpose !== none && (wording !== (now?.wording ?? "") || on !== now?.at.slice(0, 10)));
  // What is typed and not kept must not be passed over when the list is taken in.
  useEffect(() => onOpen(changed ? "The consent you wrote is not kept yet: keep it, or set it back, before you take the list in." : undefined), [changed, onOpen]);
  useEffect(() => () => onOpen(undefined), [onOpen]);
  const ready = purpose === none || (wording.trim().length > 0 && !!on);
  return (
    <Set disabled={fixed}>
      <ChoiceBox label="What the people agreed to" value={purpose} isDisabled={fixed} options={[{ key: none, label: "nothing is known of it" }, ...sieve.choices.purposes]} onChange={setPurpose} />
      {purpose !== none && (
        <>
          <TextBox label="In these words" value={wording} onChange={setWording} lines isDisabled={fixed} />
          <DayBox label="On" past value={on} onChange={setOn} isDisabled={fixed} />
        </>
      )}
      {changed && (
        <Button isDisabled={!ready || fixed} onPress={() => onChange(purpose === none ? null : { purpose, wording: wording.trim(), at: `${on}T00:00:00Z` })}>
          Keep this consent
        </Button>
      )}
    </Set>
  );
}
