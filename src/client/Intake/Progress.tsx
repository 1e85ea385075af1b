import styled from "styled-components";
import type { Schema } from "../api/client";
import { count, whole } from "../parts/format";
import { Block } from "../parts/Layout";
import { small } from "../parts/theme";

const Track = styled.div`
  height: 8px;
  border-radius: 1px;
  background: var(--hair);
  overflow: hidden;
  span {
    display: block;
    height: 100%;
    background: var(--slate);
  }
`;

const Line = styled.p`
  ${small}
  margin-top: 5px;
`;

const doing: Record<string, string> = { sifting: "Sifting", taking: "Taking in", taking_back: "Taking back" };

/** Work under way: count, rate, time left. It goes on when the page is left. */
export function Progress({ imported }: { imported: Schema["ImportView"] }) {
  const work = imported.work;
  if (!work) return null;
  const share = work.toDo > 0 ? Math.min(1, work.done / work.toDo) : undefined;
  const words = [
    `${doing[imported.state]} ${whole(work.done)}${work.toDo ? ` of ${whole(work.toDo)}` : ""} rows`,
    work.rowsASecond > 0 && `${whole(work.rowsASecond)} a second`,
    work.secondsLeft != null && (work.secondsLeft < 90 ? `${count(work.secondsLeft, "second")} left` : `${Math.round(work.secondsLeft / 60)} min left`),
  ].filter(Boolean);
  return (
    <Block $below={4}>
      <Track role="progressbar" aria-label={doing[imported.state]} aria-valuenow={share === undefined ? undefined : Math.round(share * 100)} aria-valuemin={0} aria-valuemax={100}>
        <span style={{ width: `${(share ?? 0.06) * 100}%` }} />
      </Track>
      <Line role="status">{words.join(" · ")}. You can leave this page; it goes on.</Line>
    </Block>
  );
}
