import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import styled from "styled-components";
import { api, must } from "../api/client";
import { FactList, type SaveFact } from "../parts/FactList";
import { tell, tellTrouble } from "../parts/Toast";
import { useRefresh } from "../Setup/session";

const Fold = styled.details`
  border-top: 1px solid var(--hair);
  padding-top: 8px;
  margin-top: 8px;
  summary {
    cursor: pointer;
    font-weight: 600;
    font-size: 14px;
    margin-bottom: 6px;
  }
`;

type Props = { kind: "contacts" | "accounts" | "deals"; id: string; title: string; mayWrite: boolean; open?: boolean };

/** The facts of a contact, an account or a deal, asked for when they are unfolded, each changed in place. */
export function RecordFacts({ kind, id, title, mayWrite, open = false }: Props) {
  const [unfolded, setUnfolded] = useState(open);
  const refresh = useRefresh();
  const path = { id };
  const sheet = useQuery({ queryKey: ["record-facts", kind, id], enabled: unfolded, queryFn: () => must(api.GET(`/api/${kind}/{id}/facts`, { params: { path } })) });
  const put = async (key: string, value: string, was: string) => {
    const now = await must(api.PATCH(`/api/${kind}/{id}/facts`, { params: { path }, body: { facts: { [key]: value }, was: was ? { [key]: was } : {} } }));
    await refresh();
    return now.facts.find((f) => f.key === key);
  };
  const save: SaveFact = async (fact, value) => {
    try {
      const now = await put(fact.key, value, fact.stored ?? "");
      tell(`${fact.label} is now ${now?.value ?? "blank"}.`, () => void put(fact.key, fact.stored ?? "", now?.stored ?? "").catch(tellTrouble));
    } catch (e) {
      tellTrouble(e);
      throw e;
    }
  };
  return (
    <Fold open={unfolded} onToggle={(e) => setUnfolded(e.currentTarget.open)}>
      <summary>{title}</summary>
      {sheet.data && <FactList label={title} facts={sheet.data.facts} mayWrite={mayWrite} onSave={save} />}
    </Fold>
  );
}
