import { useState } from "react";
import styled from "styled-components";
import { ApiError } from "../../api/client";
import { useAct } from "../../common/acting";
import { Button } from "../../parts/Button";
import { Overlay } from "../../parts/Dialog";
import { count, whole } from "../../parts/format";
import { Row, Stack } from "../../parts/Layout";
import { small } from "../../parts/theme";
import { useAnyUnread } from "../../parts/unread";
import { useSettled } from "../../parts/useSettled";
import { BulkAsk } from "./BulkAsk";
import { order, usePreview, type Order } from "../../common/bulk";
import { titles, type Act, type Kind } from "./titles";

const What = styled.section`
  border-top: 1px solid var(--hair);
  padding-top: 12px;
  min-height: 150px;
  font-size: 14px;
  p + p {
    margin-top: 4px;
  }
  ul {
    list-style: none;
    padding: 0;
    margin: 8px 0 0;
  }
  li {
    display: grid;
    grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr) 18px minmax(0, 1fr);
    gap: 8px;
    padding: 3px 0;
    border-bottom: 1px solid var(--hair);
  }
  li > span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  small {
    ${small}
  }
`;

type Props = { kind: Kind; which: Omit<Order, "act">; onClose: () => void; onOrdered: (id: string) => void };

const wouldBe: Partial<Record<Kind, string>> = { remove: "be removed", hand_over: "be handed over" };

/** Says what is to be done, shows what it would change, and orders it. */
export function BulkForm({ kind, which, onClose, onOrdered }: Props) {
  const [act, setAct] = useState<Act | null>(null);
  const sending = useAct();
  const isUnread = useAnyUnread();
  // The same press twice is the same order.
  const [key] = useState(() => crypto.randomUUID());
  // Typing asks the server when it pauses.
  const settled = useSettled(act, 250);
  const asked = settled ? { ...which, act: settled } : null;
  const preview = usePreview(asked);
  const isCurrent = settled === act;
  const current = isCurrent ? preview.data : undefined;
  const trouble = isCurrent && preview.error instanceof ApiError ? preview.error : undefined;
  const may = !!current && current.changed > 0 && !isUnread;
  const send = () =>
    void sending.run(() => order(asked!, key), {
      changes: ["lead"],
      then: (edit) => {
        onOrdered(edit.id);
        onClose();
      },
    });
  return (
    <Overlay title={titles[kind]} isOpen onClose={onClose} width={600}>
      <Stack as="form" $gap={4} onSubmit={(e: React.FormEvent) => (e.preventDefault(), may && send())}>
        <BulkAsk kind={kind} error={trouble} onChange={setAct} />
        <What aria-live="polite" aria-label="What it would do">
          {!act && <small>Choose, and what would change is shown here.</small>}
          {act && !current && !trouble && <small>looking …</small>}
          {trouble && !trouble.field && <p>{trouble.message}</p>}
          {current && <Outcome preview={current} would={wouldBe[kind] ?? "change"} />}
        </What>
        <Row $gap={3}>
          <Button type="submit" look="main" isDisabled={!may} isPending={sending.busy}>
            {wordsOf(kind, current)}
          </Button>
          <Button onPress={onClose}>Leave it</Button>
        </Row>
      </Stack>
    </Overlay>
  );
}

type Preview = NonNullable<ReturnType<typeof usePreview>["data"]>;

function wordsOf(kind: Kind, preview: Preview | undefined) {
  if (!preview || preview.changed === 0) return titles[kind];
  return preview.leads > preview.looked ? `${titles[kind]}: ${whole(preview.leads)} leads` : `${titles[kind]}: ${count(preview.changed, "lead")}`;
}

function Outcome({ preview, would }: { preview: Preview; would: string }) {
  const { changed, same, left, samples, looked, leads } = preview;
  return (
    <>
      <p>
        {looked < leads && <>Of the first {whole(looked)} of {whole(leads)}: </>}
        <b>{count(changed, "lead")}</b> would {would}
        {same > 0 && `, ${whole(same)} ${same === 1 ? "is" : "are"} so already`}.
      </p>
      {left.map((l) => (
        <p key={l.why}>
          {count(l.leads, "lead")} left as {l.leads === 1 ? "it is" : "they are"}: {l.why}
          {l.why.endsWith(".") ? "" : "."}
        </p>
      ))}
      {samples.some((s) => s.after) && (
        <ul>
          {samples.map((s) => (
            <li key={s.number}>
              <span>
                {s.number} {s.name}
              </span>
              <span>{s.before}</span>
              <span aria-label="becomes">→</span>
              <span>
                <b>{s.after}</b>
              </span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
