import { useQuery } from "@tanstack/react-query";
import styled from "styled-components";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { keys } from "../common/keys";
import { ChoiceBox } from "../parts/Field";
import { TagMark } from "../parts/TagMark";
import type { Sheet } from "./queries";

const Adder = styled.div`
  width: 126px;
  & button {
    min-height: 26px;
    padding-block: 1px;
    border-color: transparent;
    background: none;
    color: var(--slate);
  }
`;

/** The tags of a lead, put on and taken off. */
export function Tags({ lead, tags, mayWrite }: { lead: Sheet; tags: Schema["LeadTagView"][]; mayWrite: boolean }) {
  const all = useQuery({ queryKey: keys.tags, queryFn: () => must(api.GET("/api/tags")), staleTime: 60_000 });
  const act = useAct();
  const at = (key: string) => ({ params: { path: { id: lead.id, key } } });
  const put = (key: string) => must(api.PUT("/api/leads/{id}/tags/{key}", at(key)));
  const off = (key: string) => must(api.DELETE("/api/leads/{id}/tags/{key}", at(key)));
  const rest = (all.data?.tags ?? []).filter((t) => !t.retired && !t.mergedInto && tags.every((x) => x.key !== t.key));
  const remove = (tag: { key: string; name: string }) => void act.run(() => off(tag.key), { changes: ["around"], words: `${tag.name} is taken off.`, back: () => put(tag.key) });
  const add = (key: string) => void act.run(() => put(key), { changes: ["around"], words: `${rest.find((t) => t.key === key)?.name} is put on.`, back: () => off(key) });
  return (
    <>
      {tags.map((t) => (
        <TagMark key={t.key} tag={t} onRemove={mayWrite ? () => remove(t) : undefined} />
      ))}
      {mayWrite && rest.length > 0 && (
        <Adder>
          <ChoiceBox hideLabel label="Add a tag" placeholder="add a tag" value={null} options={rest.map((t) => ({ key: t.key, label: t.name }))} onChange={add} />
        </Adder>
      )}
      {!mayWrite && tags.length === 0 && "none"}
    </>
  );
}
