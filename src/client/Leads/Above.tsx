import { Link } from "react-router";
import styled from "styled-components";
import { useMay } from "../common/session";
import { partsOf, type Condition } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { Files } from "../parts/Files";
import { count as counted, whole } from "../parts/format";
import type { useLeadPages } from "./queries";
import { whereOf, type Work } from "./work";

const Quick = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0 10px;
  margin-left: auto;
  button {
    font-weight: 450;
    font-size: 13px;
  }
`;

/** Whether the person may change some lead, by role or by the view, and so may tick. */
export function useMayTick(work: Work) {
  const [works, gives, runs] = [useMay("workLeads"), useMay("giveLeads"), useMay("runIntake")];
  return works || gives || runs || !!work.view?.mayDo.some((act) => act !== "export");
}

/** To the pairs that may be one, for those with the right to settle them. */
export function ToDuplicates() {
  return useMay("settleDuplicates") ? <Link to="/leads/duplicates">Duplicates</Link> : null;
}

type Page = NonNullable<ReturnType<typeof useLeadPages>["data"]>["pages"][number];

/** How many leads there are, and the way to take them along as a file. */
export function Total({ work, page }: { work: Work; page?: Page }) {
  const may = useMay("exportLeads") || !!work.view?.mayDo.includes("export");
  const within = work.view ? `&view=${work.view.id}` : "";
  if (!page) return <span role="status">counting …</span>;
  const all = page.estimated ? `about ${whole(page.count)} leads` : counted(page.count, "lead");
  return (
    <span role="status">
      <b>{all}</b>
      {page.withoutOwner ? `, ${whole(page.withoutOwner)} without owner` : ""}
      {may && page.count > 0 && (
        <>
          {" · "}
          <Files name="leads" query={`where=${encodeURIComponent(JSON.stringify(whereOf(work)))}${within}`} />
        </>
      )}
    </span>
  );
}

/** The view's quick conditions: a press adds one to the sentence. */
export function Pinned({ work, onAdd }: { work: Work; onAdd: (where: Condition) => void }) {
  const there = new Set(partsOf(work.where).map((p) => JSON.stringify(p)));
  const left = (work.view?.body.quick ?? []).filter((q) => !there.has(JSON.stringify(q.where)));
  if (left.length === 0) return null;
  return (
    <Quick>
      {left.map((q) => (
        <Button key={q.label} look="quiet" onPress={() => onAdd(q.where as Condition)}>
          + {q.label}
        </Button>
      ))}
    </Quick>
  );
}
