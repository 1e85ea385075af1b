import styled from "styled-components";
import type { Schema } from "../../api/client";
import { Button } from "../../parts/Button";
import { ChoiceBox, TextBox } from "../../parts/Field";
import { Block } from "../../parts/Layout";
import { Tick } from "../../parts/Ticks";
import type { Sheet, Words } from "./queries";

const Row = styled.div`
  border-top: 1px solid var(--hair);
  padding: 8px 0 12px;
  .top {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 2px 16px;
    min-height: 34px;
    font-size: 14px;
  }
  .top strong {
    flex: 1;
    font-weight: 600;
  }
`;

type Props = {
  draft: Sheet;
  words: Words;
  purposes: Schema["ChoiceView"][];
  problems: Schema["DraftProblem"][];
  onDraft: (draft: Sheet) => void;
  onWords: (more: Partial<Words>) => void;
};

/** What people may agree to, each with the very words they agree to. */
export function FormConsents({ draft, words, purposes, problems, onDraft, onWords }: Props) {
  const rest = purposes.filter((p) => draft.consents.every((c) => c.purpose !== p.key));
  const put = (consents: Sheet["consents"]) => onDraft({ ...draft, consents });
  const change = (purpose: string, more: Partial<Schema["FormConsent"]>) => put(draft.consents.map((c) => (c.purpose === purpose ? { ...c, ...more } : c)));
  return (
    <>
      {draft.consents.map((c) => {
        const label = purposes.find((p) => p.key === c.purpose)?.label ?? c.purpose;
        return (
          <Row key={c.purpose}>
            <div className="top">
              <strong>{label}</strong>
              <Tick value={c.confirmed} onChange={(confirmed) => change(c.purpose, { confirmed })}>
                confirmed by email
              </Tick>
              <Tick value={c.required} onChange={(required) => change(c.purpose, { required })}>
                required
              </Tick>
              <Button look="quiet" aria-label={`Leave out ${label}`} onPress={() => put(draft.consents.filter((x) => x.purpose !== c.purpose))}>
                Leave out
              </Button>
            </div>
            <TextBox
              label=""
              aria-label={`Words for ${label}`}
              lines
              value={words.consents[c.purpose] ?? ""}
              placeholder={draft.text.consents[c.purpose] ?? ""}
              onChange={(v) => onWords({ consents: { ...words.consents, [c.purpose]: v } })}
              error={problems.find((p) => p.path === `consents.${c.purpose}`)?.sentence}
            />
          </Row>
        );
      })}
      {rest.length > 0 && (
        <Block $width={260}>
          <ChoiceBox label="Ask for one more consent" value={null} options={rest} onChange={(purpose) => put([...draft.consents, { purpose, required: false, confirmed: false }])} />
        </Block>
      )}
    </>
  );
}
