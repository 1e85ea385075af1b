import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, type Schema, type ApiError } from "../api/client";
import { Table } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { whole } from "../parts/format";
import { TagMark } from "../parts/TagMark";
import { tell, tellError } from "../parts/Toast";
import { useRefresh } from "../common/session";
import { Adding, SetupPage } from "./SetupPage";
import { keys } from "../common/keys";

const colours: Record<string, string> = { slate: "slate", lamp: "lamp", good: "green", bad: "red", ink: "ink" };

/** The vocabulary of tags: coined by its convention, merged, retired. */
export function TagsPage() {
  const tags = useQuery({ queryKey: keys.tags, queryFn: () => must(api.GET("/api/tags")) });
  return (
    <SetupPage title="Tags" intro={tags.data ? `How they are named: ${tags.data.hint}.` : "One vocabulary for everybody."} query={tags}>
      {(data) => (
        <>
          <Coin view={data} />
          <List view={data} />
        </>
      )}
    </SetupPage>
  );
}

function Coin({ view }: { view: Schema["TagsView"] }) {
  const [name, setName] = useState("");
  const [group, setGroup] = useState(view.groups[0] ?? null);
  const [colour, setColour] = useState("slate");
  const [trouble, setTrouble] = useState<ApiError>();
  const refresh = useRefresh();
  const coin = async () => {
    try {
      await must(api.POST("/api/tags", { body: { name: name.trim(), group: group ?? "", colour } }));
      setName("");
      setTrouble(undefined);
      await refresh();
    } catch (e) {
      setTrouble(e as ApiError);
    }
  };
  const like = view.tags.filter((t) => name.trim().length > 2 && t.name.includes(name.trim().toLowerCase().split(" ").at(-1)!));
  return (
    <Adding onAdd={coin}>
      <TextBox label="A new tag" value={name} onChange={setName} error={trouble && (trouble.field === "name" || !trouble.field) ? trouble.message : undefined} hint={like.length ? `There is ${like.map((t) => `“${t.name}”`).join(", ")} already.` : undefined} />
      <ChoiceBox label="Group" value={group} options={view.groups.map((g) => ({ key: g, label: g }))} onChange={setGroup} error={trouble?.field === "group" ? trouble.message : undefined} />
      <ChoiceBox label="Colour" value={colour} options={view.colours.map((c) => ({ key: c, label: colours[c] ?? c }))} onChange={setColour} />
      <Button look="main" type="submit" isDisabled={!name.trim()}>
        Coin it
      </Button>
    </Adding>
  );
}

function List({ view }: { view: Schema["TagsView"] }) {
  const refresh = useRefresh();
  const act = (call: Promise<unknown>, said: string, undo?: () => Promise<unknown>) => void call.then(() => (tell(said, undo && (() => undo().then(refresh))), refresh()), tellError);
  const names = new Map(view.tags.map((t) => [t.key, t.name]));
  return (
    <Table $middle>
      <thead>
        <tr>
          <th>Tag</th>
          <th>Group</th>
          <th>Coined by</th>
          <th className="n">Leads</th>
          <th style={{ width: 210 }}>Stands for another</th>
          <th />
        </tr>
      </thead>
      <tbody>
        {view.tags.map((t) => {
          const path = { key: t.key };
          const retire = (retired: boolean) => must(api.PATCH("/api/tags/{key}", { params: { path }, body: { retired } }));
          const split = () => must(api.DELETE("/api/tags/{key}/merge", { params: { path } }));
          return (
            <tr key={t.key} style={t.retired || t.mergedInto ? { color: "var(--soft)" } : undefined}>
              <td>
                <TagMark tag={t} />
              </td>
              <td>{t.group}</td>
              <td>{t.owner ?? "the installation"}</td>
              <td className="n">{whole(t.uses)}</td>
              <td>
                {t.mergedInto ? (
                  <>
                    reads as “{names.get(t.mergedInto)}”{" "}
                    <Button look="quiet" onPress={() => act(split(), "Apart again.")}>
                      Part them
                    </Button>
                  </>
                ) : (
                  <ChoiceBox
                    hideLabel
                    label={`Let another tag stand for ${t.name}`}
                    placeholder="merge into"
                    value={null}
                    options={view.tags.filter((o) => o.key !== t.key && !o.mergedInto && !o.retired).map((o) => ({ key: o.key, label: o.name }))}
                    onChange={(into) => act(must(api.POST("/api/tags/{key}/merge", { params: { path }, body: { into } })), `${t.name} now reads as ${names.get(into)}.`, split)}
                  />
                )}
              </td>
              <td>
                {t.retired ? (
                  <Button look="quiet" onPress={() => act(retire(false), "Back in use.")}>
                    Bring back
                  </Button>
                ) : (
                  <Button look="quiet" onPress={() => act(retire(true), "Retired. Who has it keeps it.", () => retire(false))}>
                    Retire
                  </Button>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </Table>
  );
}
