import { useState, type ReactNode } from "react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button as Press, Header, ListBoxSection, Select, SelectValue } from "react-aria-components";
import styled from "styled-components";
import { api, must } from "../api/client";
import { Button } from "../parts/Button";
import { Float, Menu, MenuItem } from "../parts/Field";
import { whole } from "../parts/format";
import { tell, tellError } from "../parts/Toast";
import { small } from "../parts/theme";
import { useMay } from "../Setup/session";
import { ViewForm } from "./ViewForm";
import type { View, Work } from "./work";

const Bar = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 10px;
  margin-bottom: 4px;
  min-height: 34px;
  .react-aria-Select {
    display: inline-block;
  }
  & > button {
    font-weight: 450;
    font-size: 13px;
  }
`;

const Name = styled(Press)`
  display: inline-flex;
  align-items: center;
  gap: 7px;
  padding: 2px 0;
  border: 0;
  background: none;
  font-weight: 640;
  font-size: 14px;
  cursor: pointer;
  &::after {
    content: "";
    border: 4px solid transparent;
    border-top-color: var(--soft);
    margin-top: 4px;
  }
  .react-aria-SelectValue[data-placeholder] {
    font-style: italic;
    font-weight: 450;
  }
`;

const Section = styled(Header)`
  ${small}
  padding: 8px 10px 2px;
`;

const Counted = styled.span`
  color: var(--soft);
  font-weight: 400;
  margin-left: 8px;
`;

const scopes = [
  { key: "fixed", label: "Fixed" },
  { key: "shared", label: "Shared" },
  { key: "personal", label: "My own" },
];

type Props = { work: Work; views: View[]; wide: boolean; onOpen: (view: View) => void; children?: ReactNode };

/** Which view one looks at, and keeping what was changed about it. */
export function ViewBar({ work, views, wide, onOpen, children }: Props) {
  const [naming, setNaming] = useState<"new" | "change" | null>(null);
  const queries = useQueryClient();
  const { view } = work;
  const body = { where: work.where, order: work.order, columns: work.columns, group: work.group, dense: work.dense, quick: view?.body.quick ?? null };
  const seen = () => queries.invalidateQueries({ queryKey: ["views"] });
  const keep = async () => {
    if (!view) return;
    try {
      await must(api.PUT("/api/views/{id}", { params: { path: { id: view.id } }, headers: { "If-Match": `"${view.version}"` }, body: { name: view.name, scope: view.scope, teams: view.teams, acts: view.acts, body } }));
      const before = view;
      await seen();
      onOpen(view);
      tell(`“${view.name}” is kept as you see it.`, async () => {
        await must(api.PUT("/api/views/{id}", { params: { path: { id: before.id } }, body: { name: before.name, scope: before.scope, teams: before.teams, acts: before.acts, body: before.body } })).catch(tellError);
        await seen();
      });
    } catch (error) {
      tellError(error);
    }
  };
  return (
    <Bar>
      <Select aria-label="View" selectedKey={view?.id ?? null} onSelectionChange={(id) => onOpen(views.find((v) => v.id === id)!)} placeholder="not a kept view">
        <Name>
          <SelectValue>{({ defaultChildren, isPlaceholder }) => (isPlaceholder ? defaultChildren : view?.name)}</SelectValue>
        </Name>
        <Float>
          <Menu>
            {scopes
              .map((s) => ({ ...s, of: views.filter((v) => v.scope === s.key) }))
              .filter((s) => s.of.length > 0)
              .map((s) => (
                <ListBoxSection key={s.key} id={s.key}>
                  <Section>{s.label}</Section>
                  {s.of.map((v) => (
                    <MenuItem key={v.id} id={v.id} textValue={v.name}>
                      {v.name}
                      <Count view={v} />
                    </MenuItem>
                  ))}
                </ListBoxSection>
              ))}
          </Menu>
        </Float>
      </Select>
      {work.changed && view && (
        <>
          <span style={{ fontSize: 13, color: "var(--soft)" }}>changed</span>
          {view.mayChange && (
            <Button look="quiet" onPress={() => void keep()}>
              Keep
            </Button>
          )}
          <Button look="quiet" onPress={() => onOpen(view)}>
            Back to how it was
          </Button>
        </>
      )}
      {wide && (
        <>
          <Button look="quiet" onPress={() => setNaming("new")}>
            Keep as a new view
          </Button>
          {view?.mayChange && (
            <Button look="quiet" onPress={() => setNaming("change")}>
              Name and who sees it
            </Button>
          )}
        </>
      )}
      {children}
      {naming && <ViewForm key={naming} view={naming === "change" ? view : undefined} body={naming === "change" && view ? view.body : body} where={work.where} onClose={() => setNaming(null)} onKept={(id) => void seen().then(() => id && onOpen({ id } as View))} />}
    </Bar>
  );
}

/** How many leads a view holds, once the list of views is open. */
function Count({ view }: { view: View }) {
  const may = useMay("seeLeads");
  const count = useQuery({ queryKey: ["leads", "view", view.id, view.version], enabled: may, queryFn: () => must(api.GET("/api/views/{id}/count", { params: { path: { id: view.id } } })) });
  return count.data ? <Counted>{count.data.estimated ? `about ${whole(count.data.all)}` : whole(count.data.all)}</Counted> : null;
}
