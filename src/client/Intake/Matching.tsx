import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { ChoiceBox } from "../parts/Field";
import { tellTrouble } from "../parts/Toast";
import { small } from "../parts/theme";
import { WhyPane } from "../parts/WhyPane";
import { useMay, useRefresh } from "../Setup/session";

const Column = styled.li`
  padding: 9px 0;
  border-bottom: 1px solid var(--hair);
  .top {
    display: grid;
    grid-template-columns: 1fr 150px;
    gap: 10px;
    align-items: center;
  }
  b {
    font-weight: 600;
    font-size: 14px;
    overflow-wrap: anywhere;
  }
  p {
    ${small}
    font-size: 12px;
    margin-top: 3px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
`;

const none = "–";

/** Each column to a field, with samples and how sure we are. A change sifts anew. */
export function Matching({ sieve }: { sieve: Schema["SieveView"] }) {
  const refresh = useRefresh();
  const may = useMay("runIntake");
  const fixed = !may || sieve.delivery.state !== "sifted";
  const [busy, setBusy] = useState(false);
  const fields = useQuery({ queryKey: ["fields"], queryFn: () => must(api.GET("/api/fields")), staleTime: 300_000 });
  const sources = fields.data?.find((f) => f.key === "source")?.choices ?? [];

  const change = async (source: string, targets: string[]) => {
    setBusy(true);
    try {
      await must(api.PUT("/api/deliveries/{id}/matching", { params: { path: { id: sieve.delivery.id } }, body: { source, targets } }));
      await refresh();
    } catch (e) {
      tellTrouble(e);
    } finally {
      setBusy(false);
    }
  };
  const targets = sieve.matching.map((m) => m.target ?? "");
  const options = [{ key: none, label: "keep with the row only" }, ...sieve.targets];

  return (
    <WhyPane title="How the columns are matched">
      <ChoiceBox label="Where the list comes from" value={sieve.delivery.source} options={sources} isDisabled={fixed || busy} onChange={(s) => void change(s, targets)} />
      <ol style={{ listStyle: "none", padding: 0, marginTop: 12 }}>
        {sieve.matching.map((m) => (
          <Column key={m.index}>
            <div className="top">
              <b>{m.heading.trim() || `column ${m.index + 1}`}</b>
              <ChoiceBox
                hideLabel
                label={`Field for ${m.heading.trim() || `column ${m.index + 1}`}`}
                value={m.target ?? none}
                options={options}
                isDisabled={fixed || busy}
                onChange={(t) => void change(sieve.delivery.source, targets.map((old, i) => (i === m.index ? (t === none ? "" : t) : old)))}
              />
            </div>
            <p title={m.samples.join(", ")}>
              {m.target ? `${m.confidence} % sure, ${m.why}` : m.why}
              {m.samples.length > 0 && ` · ${m.samples.slice(0, 3).join(", ")}`}
            </p>
          </Column>
        ))}
      </ol>
    </WhyPane>
  );
}
