import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, must } from "../api/client";
import { keys } from "../common/keys";
import { usePeople } from "../common/people";
import { useSession } from "../common/session";
import { Button } from "../parts/Button";
import { ChoiceBox } from "../parts/Field";
import { moment } from "../parts/format";
import { Block } from "../parts/Layout";
import { Trace } from "../parts/Trace";
import { Hint, Subtitle } from "../parts/Words";
import type { Sheet } from "./queries";

/** Why a lead is with whom it is, rule by rule if one wants, and why not with somebody else. */
export function RoutingWhy({ lead }: { lead: Sheet }) {
  const { timeZone } = useSession();
  const [open, setOpen] = useState(false);
  const { routing } = lead;
  if (!routing) return null;
  return (
    <>
      <Subtitle $above={1}>{lead.ownerName ? `Why ${lead.ownerName}` : "Why nobody has it"}</Subtitle>
      {open && <Asked lead={lead} />}
      <Trace>
        {routing.lines.map((l, i) => (
          <li key={i} data-hit={l.hit || undefined}>
            {l.words}
          </li>
        ))}
      </Trace>
      {open && <Before lead={lead} />}
      <Hint $above={1} $below={3}>
        Rule sheet edition {routing.edition}, {moment(routing.at, timeZone)}. Scores by model edition {lead.score.edition}.{" "}
        <Button look="inline" aria-expanded={open} onPress={() => setOpen(!open)}>
          {open ? "less" : "every rule that was asked"}
        </Button>
      </Hint>
      <WhyNot lead={lead} />
    </>
  );
}

const useDecisions = (lead: Sheet) => useQuery({ queryKey: keys.decisions(lead.id, lead.version), queryFn: () => must(api.GET("/api/leads/{id}/routing", { params: { path: { id: lead.id } } })) });

function Asked({ lead }: { lead: Sheet }) {
  const decisions = useDecisions(lead);
  const failed = decisions.data?.[0]?.verdicts.filter((v) => v.failed) ?? [];
  if (decisions.data && failed.length === 0) return <Hint>No rule before it was asked.</Hint>;
  return (
    <Trace>
      {failed.map((v) => (
        <li key={v.rule}>
          Rule {v.rule + 1}, {v.name}: {v.failed}
        </li>
      ))}
    </Trace>
  );
}

function Before({ lead }: { lead: Sheet }) {
  const { timeZone } = useSession();
  const earlier = useDecisions(lead).data?.slice(1) ?? [];
  if (earlier.length === 0) return null;
  return (
    <Trace>
      {earlier.map((d) => (
        <li key={d.at}>
          Before that, {moment(d.at, timeZone)}: {d.owner ?? "the Desk"}. {d.lines.at(-1)?.words}
        </li>
      ))}
    </Trace>
  );
}

function WhyNot({ lead }: { lead: Sheet }) {
  const [asked, setAsked] = useState("");
  const people = (usePeople().data ?? []).filter((p) => p.id !== lead.ownerId);
  const why = useQuery({ queryKey: keys.whyNot(lead.id, asked, lead.version), enabled: asked !== "", queryFn: () => must(api.GET("/api/leads/{id}/routing/why-not", { params: { path: { id: lead.id }, query: { person: asked } } })) });
  return (
    <>
      <ChoiceBox label="Why not" value={asked || "-"} options={[{ key: "-", label: "somebody else" }, ...people.map((p) => ({ key: p.id, label: p.name }))]} onChange={(key) => setAsked(key === "-" ? "" : key)} />
      {asked && why.data && (
        <Block $above={2}>
          <Trace role="status">
            {why.data.lines.map((l) => (
              <li key={l}>{l}</li>
            ))}
          </Trace>
        </Block>
      )}
    </>
  );
}
