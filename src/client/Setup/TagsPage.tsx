import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useForm } from "../common/form";
import { keys } from "../common/keys";
import { Button } from "../parts/Button";
import { DataTable, FadedRow } from "../parts/DataTable";
import { ChoiceBox, TextBox } from "../parts/Field";
import { whole } from "../parts/format";
import { TagMark } from "../parts/TagMark";
import { Adding, SetupPage } from "./SetupPage";

const colours: Record<string, string> = { slate: "slate", lamp: "lamp", good: "green", bad: "red", ink: "ink" };

type View = Schema["TagsView"];
type Tag = View["tags"][number];

const head = ["Tag", "Group", "Coined by", { label: "Leads", isNumber: true }, { label: "Stands for another", width: 210 }, { label: "Acts", isUnseen: true }];

/** The vocabulary of tags: coined by its convention, merged, retired. */
export function TagsPage() {
  const tags = useQuery({ queryKey: keys.tags, queryFn: () => must(api.GET("/api/tags")) });
  return (
    <SetupPage title="Tags" intro={tags.data ? `How they are named: ${tags.data.hint}.` : "One vocabulary for everybody."} query={tags}>
      {(data) => (
        <>
          <Coin view={data} />
          <DataTable label="Tags" head={head} hasButtons>
            {data.tags.map((t) => (
              <Row key={t.key} tag={t} view={data} />
            ))}
          </DataTable>
        </>
      )}
    </SetupPage>
  );
}

function Coin({ view }: { view: View }) {
  const form = useForm({ called: "the new tag", name: "new-tag", initial: { name: "", group: view.groups[0] ?? "", colour: "slate" } });
  const typed = form.values.name.trim();
  const coin = () => form.send((body) => must(api.POST("/api/tags", { body: { ...body, name: typed } })), { changes: ["setup"], words: `${typed} is coined.` });
  const like = view.tags.filter((t) => typed.length > 2 && t.name.includes(typed.toLowerCase().split(" ").at(-1)!));
  return (
    <Adding form={form} words="Coin it" onAdd={coin} isReady={!!typed}>
      <TextBox label="A new tag" {...form.bind("name")} hint={like.length ? `There is ${like.map((t) => `“${t.name}”`).join(", ")} already.` : undefined} />
      <ChoiceBox label="Group" {...form.bind("group")} value={form.values.group || null} options={view.groups.map((g) => ({ key: g, label: g }))} />
      <ChoiceBox label="Colour" {...form.bind("colour")} options={view.colours.map((c) => ({ key: c, label: colours[c] ?? c }))} />
    </Adding>
  );
}

function Row({ tag: t, view }: { tag: Tag; view: View }) {
  const act = useAct();
  const path = { key: t.key };
  const nameOf = (key: string) => view.tags.find((x) => x.key === key)?.name;
  const run = (work: () => Promise<unknown>, words: string, back?: () => Promise<unknown>) => void act.run(work, { changes: ["setup"], words, back });
  const retire = (retired: boolean) => must(api.PATCH("/api/tags/{key}", { params: { path }, body: { retired } }));
  const merge = (into: string) => must(api.POST("/api/tags/{key}/merge", { params: { path }, body: { into } }));
  const split = () => must(api.DELETE("/api/tags/{key}/merge", { params: { path } }));
  const others = view.tags.filter((o) => o.key !== t.key && !o.mergedInto && !o.retired).map((o) => ({ key: o.key, label: o.name }));
  return (
    <FadedRow $faded={t.retired || !!t.mergedInto}>
      <td>
        <TagMark tag={t} />
      </td>
      <td>{t.group}</td>
      <td>{t.owner ?? "the installation"}</td>
      <td className="n">{whole(t.uses)}</td>
      <td>
        {t.mergedInto ? (
          <>
            reads as “{nameOf(t.mergedInto)}”{" "}
            <Button look="quiet" onPress={() => run(split, "Apart again.")}>
              Part them
            </Button>
          </>
        ) : (
          <ChoiceBox hideLabel label={`Let another tag stand for ${t.name}`} placeholder="merge into" value={null} options={others} onChange={(into) => run(() => merge(into), `${t.name} now reads as ${nameOf(into)}.`, split)} />
        )}
      </td>
      <td>
        <Button look="quiet" onPress={() => (t.retired ? run(() => retire(false), "Back in use.") : run(() => retire(true), "Retired. Who has it keeps it.", () => retire(false)))}>
          {t.retired ? "Bring back" : "Retire"}
        </Button>
      </td>
    </FadedRow>
  );
}
