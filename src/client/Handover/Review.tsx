import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { order, type Edit, type Order } from "../common/bulk";
import { keys } from "../common/keys";
import { usePipelines } from "../common/pipelines";
import { Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { DataTable } from "../parts/DataTable";
import { ChoiceBox } from "../parts/Field";
import { count, day, money } from "../parts/format";
import { Block } from "../parts/Layout";
import { ErrorNote, Skeleton } from "../parts/States";
import { small } from "../parts/theme";
import { Unbroken } from "../parts/Words";

type Props = { leads: string[]; working?: Edit; onOrdered: (id: string) => void; onOpen: () => void };
type Reviewed = Schema["ReviewLine"];

const Name = styled.td`
  small {
    ${small}
    display: block;
  }
`;

const Doubt = styled.td<{ $colour: string }>`
  color: var(--${(p) => p.$colour});
`;

/** Several leads as they would be handed over, each as its sheet proposes; what should be looked at first says why. */
export function Review({ leads, working, onOrdered, onOpen }: Props) {
  const pipelines = usePipelines().data ?? [];
  const [chosen, setChosen] = useState<string>();
  const act = useAct();
  const key = useRef(crypto.randomUUID());
  const pipeline = chosen ?? pipelines[0]?.key ?? "";
  const review = useQuery({ queryKey: keys.handoverReview(leads, pipeline), enabled: !!pipeline, queryFn: () => must(api.POST("/api/handover/review", { body: { leads, pipeline } })) });
  const able = (review.data ?? []).filter((r) => !r.refused);
  const body: Order = { act: { kind: "hand_over", key: pipeline }, leads: able.map((r) => r.id), where: null, view: null };
  const handOver = () => void act.run(() => order(body, key.current), { changes: [], then: (edit) => onOrdered(edit.id) });
  return (
    <Pane $sheet aria-label="Review">
      <Inner>
        <Head>
          <div>
            <h1>{count(leads.length, "handover")} to review</h1>
            <p>Each as its sheet proposes: linked to who is the same beyond doubt, else made new. Open one to settle what is in doubt.</p>
          </div>
          <Button look="main" isPending={act.busy} isDisabled={!able.length || !!working} onPress={handOver}>
            {working ? `Handing over, ${working.looked} of ${working.leads}` : `Hand over ${able.length}`}
          </Button>
        </Head>
        <Block $width={220} $below={3}>
          <ChoiceBox label="Pipeline" value={pipeline} options={pipelines.map((p) => ({ key: p.key, label: p.name }))} onChange={setChosen} />
        </Block>
        {review.isPending && <Skeleton rows={5} />}
        {review.isError && <ErrorNote error={review.error} />}
        {review.data && (
          <DataTable label="To review" head={["Lead", "Account", "Deal", { label: "Amount", isNumber: true }, "Close", "Look first"]}>
            {review.data.map((r) => (
              <Line key={r.id} reviewed={r} onOpen={onOpen} />
            ))}
          </DataTable>
        )}
      </Inner>
    </Pane>
  );
}

function Line({ reviewed: r, onOpen }: { reviewed: Reviewed; onOpen: () => void }) {
  const doubts = r.refused ?? (r.doubts.length ? r.doubts.join("; ") : "nothing");
  return (
    <tr>
      <Name>
        <Link to={`/handover/${r.id}`} onClick={onOpen}>
          {r.name}
        </Link>
        {!r.newContact && <small>known as {r.contact}</small>}
      </Name>
      <Name>
        {r.account ?? "none"}
        {r.account && <small>{r.newAccount ? "new" : "is there already"}</small>}
      </Name>
      <td>{r.dealName}</td>
      <td className="n">{r.amount !== null && r.currency ? money(r.amount, r.currency) : "–"}</td>
      <td>
        <Unbroken>{r.expectedClose && day(r.expectedClose)}</Unbroken>
      </td>
      <Doubt $colour={r.refused ? "bad" : r.doubts.length ? "lamp-ink" : "soft"}>{doubts}</Doubt>
    </tr>
  );
}
