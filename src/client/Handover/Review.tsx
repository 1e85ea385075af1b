import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { api, must } from "../api/client";
import { Head, Inner, Pane, Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { count, day, money } from "../parts/format";
import { Skeleton, ErrorNote } from "../parts/States";
import { tellError } from "../parts/Toast";
import { order, type Edit } from "../common/bulk";
import { keys } from "../common/keys";

type Props = { leads: string[]; working?: Edit; onOrdered: (id: string) => void; onOpen: () => void };

/** Several leads as they would be handed over, each as its sheet proposes; who should be looked at first says why. */
export function Review({ leads, working, onOrdered, onOpen }: Props) {
  const pipelines = usePipelines();
  const [chosen, setChosen] = useState<string>();
  const key = useRef(crypto.randomUUID());
  const pipeline = chosen ?? pipelines.data?.[0]?.key ?? "";
  const review = useQuery({
    queryKey: keys.handoverReview(leads, pipeline),
    enabled: !!pipeline,
    queryFn: () => must(api.POST("/api/handover/review", { body: { leads, pipeline } })),
  });
  const able = (review.data ?? []).filter((r) => !r.refused);
  const handOver = async () => {
    try {
      onOrdered((await order({ act: { kind: "hand_over", key: pipeline }, leads: able.map((r) => r.id), where: null, view: null } as Parameters<typeof order>[0], key.current)).id);
    } catch (e) {
      tellError(e);
    }
  };
  return (
    <Pane $sheet aria-label="Review">
      <Inner>
        <Head>
          <div>
            <h1>{count(leads.length, "handover")} to review</h1>
            <p>Each as its sheet proposes: linked to who is the same beyond doubt, else made new. Open one to settle what is in doubt.</p>
          </div>
          <Button look="main" isDisabled={!able.length || !!working} onPress={() => void handOver()}>
            {working ? `Handing over, ${working.looked} of ${working.leads}` : `Hand over ${able.length}`}
          </Button>
        </Head>
        <div style={{ width: 220, marginBottom: 14 }}>
          <ChoiceBox label="Pipeline" value={pipeline} options={(pipelines.data ?? []).map((p) => ({ key: p.key, label: p.name }))} onChange={setChosen} />
        </div>
        {review.isPending && <Skeleton rows={5} />}
        {review.isError && <ErrorNote error={review.error} />}
        {review.data && (
          <Table>
            <thead>
              <tr>
                <th>Lead</th>
                <th>Account</th>
                <th>Deal</th>
                <th className="n">Amount</th>
                <th>Close</th>
                <th>Look first</th>
              </tr>
            </thead>
            <tbody>
              {review.data.map((r) => (
                <tr key={r.id}>
                  <td>
                    <Link to={`/handover/${r.id}`} onClick={onOpen}>
                      {r.name}
                    </Link>
                    {!r.newContact && <small style={{ display: "block", color: "var(--soft)" }}>known as {r.contact}</small>}
                  </td>
                  <td>
                    {r.account ?? "none"}
                    {r.account && <small style={{ display: "block", color: "var(--soft)" }}>{r.newAccount ? "new" : "is there already"}</small>}
                  </td>
                  <td>{r.dealName}</td>
                  <td className="n">{r.amount !== null && r.currency ? money(r.amount, r.currency) : "–"}</td>
                  <td style={{ whiteSpace: "nowrap" }}>{r.expectedClose && day(r.expectedClose)}</td>
                  <td style={{ color: r.refused ? "var(--bad)" : r.doubts.length ? "var(--lamp-ink)" : "var(--soft)" }}>{r.refused ?? (r.doubts.length ? r.doubts.join("; ") : "nothing")}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        )}
      </Inner>
    </Pane>
  );
}
