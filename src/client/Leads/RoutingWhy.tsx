import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import styled from "styled-components";
import { api, must } from "../api/client";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { moment } from "../parts/format";
import { small } from "../parts/theme";
import { Trace } from "../parts/Trace";
import { useSession } from "../Setup/session";
import { usePeople, type Sheet } from "./queries";

const Note = styled.p`
  ${small}
  margin: 6px 0 10px;
`;

const quiet = { minHeight: 0, padding: 0, fontSize: 13 };

/** Why a lead is with whom it is, rule by rule if one wants, and why not with somebody else. */
export function RoutingWhy({ lead }: { lead: Sheet }) {
  const { timeZone } = useSession();
  const [open, setOpen] = useState(false);
  const [asked, setAsked] = useState("");
  const people = usePeople();
  const decisions = useQuery({ queryKey: ["lead", lead.id, "routing", lead.version], enabled: open, queryFn: () => must(api.GET("/api/leads/{id}/routing", { params: { path: { id: lead.id } } })) });
  const why = useQuery({
    queryKey: ["lead", lead.id, "why-not", asked, lead.version],
    enabled: asked !== "",
    queryFn: () => must(api.GET("/api/leads/{id}/routing/why-not", { params: { path: { id: lead.id }, query: { person: asked } } })),
  });
  const routing = lead.routing;
  if (!routing) return null;
  const failed = decisions.data?.[0]?.verdicts.filter((v) => v.failed) ?? [];
  return (
    <>
      <h3 style={{ margin: "4px 0 2px" }}>{lead.ownerName ? `Why ${lead.ownerName}` : "Why nobody has it"}</h3>
      <Trace>
        {open &&
          failed.map((v) => (
            <li key={v.rule}>
              Rule {v.rule + 1}, {v.name}: {v.failed}
            </li>
          ))}
        {routing.lines.map((l, i) => (
          <li key={i} data-hit={l.hit || undefined}>
            {l.words}
          </li>
        ))}
      </Trace>
      {open && decisions.data && failed.length === 0 && <Note>No rule before it was asked.</Note>}
      {open && (decisions.data?.length ?? 0) > 1 && (
        <Trace>
          {decisions.data!.slice(1).map((d) => (
            <li key={d.at}>
              Before that, {moment(d.at, timeZone)}: {d.owner ?? "the Desk"}. {d.lines.at(-1)?.words}
            </li>
          ))}
        </Trace>
      )}
      <Note>
        Rule sheet edition {routing.edition}, {moment(routing.at, timeZone)}. Scores by model edition {lead.score.edition}.{" "}
        <Button look="quiet" style={quiet} aria-expanded={open} onPress={() => setOpen(!open)}>
          {open ? "less" : "every rule that was asked"}
        </Button>
      </Note>
      <ChoiceBox label="Why not" value={asked || "-"} options={[{ key: "-", label: "somebody else" }, ...(people.data ?? []).filter((p) => p.id !== lead.ownerId).map((p) => ({ key: p.id, label: p.name }))]} onChange={(key) => setAsked(key === "-" ? "" : key)} />
      {asked && why.data && (
        <Trace style={{ marginTop: 8 }} role="status">
          {why.data.lines.map((l) => (
            <li key={l}>{l}</li>
          ))}
        </Trace>
      )}
    </>
  );
}
