import { useState } from "react";
import type { Schema } from "../api/client";
import { useFields } from "../common/fields";
import { useForm } from "../common/form";
import { FormBox } from "../common/FormBox";
import { useMay } from "../common/session";
import type { Condition } from "../Conditions/conditions";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Block, Row } from "../parts/Layout";
import { Ticks } from "../parts/Ticks";
import { viewActs, type View } from "./views";

const acts = [
  { key: "give", label: "give to somebody" },
  { key: "delete", label: "remove" },
  { key: "hand_over", label: "hand over" },
  { key: "export", label: "download" },
];

type Body = Schema["ViewBody"];
type Quick = NonNullable<Body["quick"]>;
type Props = { view?: View; body: Body; where: Condition; onClose: () => void; onKept: (id: string | null) => void };

/** Name of a view, who sees it, and for a fixed one what its teams may do in it. */
export function ViewForm({ view, body, where, onClose, onKept }: Props) {
  const teams = useFields().data?.find((f) => f.key === "team")?.choices ?? [];
  const form = useForm({
    called: "the view",
    name: `view:${view?.id ?? "new"}`,
    initial: { name: view?.name ?? "", scope: view?.scope ?? "personal", teams: [...(view?.teams ?? [])], acts: [...(view?.acts ?? [])], quick: [...(body.quick ?? [])] as Quick },
  });
  const { name, scope } = form.values;
  const done = (id: string | null) => {
    onKept(id);
    onClose();
  };
  const keep = () =>
    form.send(({ quick, ...draft }) => (view ? viewActs.put(view, { ...draft, body: { ...body, quick } }, view.version).then(() => null) : viewActs.add({ ...draft, body: { ...body, quick } })), {
      changes: ["views"],
      words: view ? `“${name}” is changed.` : `“${name}” is kept.`,
      then: done,
    });
  const away = () => view && form.send(() => viewActs.drop(view), { changes: ["views"], words: `“${view.name}” is put away.`, then: () => done(null) });
  const putAway = view && (
    <Block $right>
      <Button look="bad" onPress={() => void away()}>
        Put away
      </Button>
    </Block>
  );
  return (
    <Overlay title={view ? "Name and who sees it" : "Keep as a new view"} isOpen onClose={onClose} width={460} unsaved={form}>
      <FormBox form={form} words="Keep" onSend={keep} beside={putAway}>
        <TextBox label="Name" {...form.bind("name")} autoFocus />
        <ChoiceBox label="Who sees it" {...form.bind("scope")} options={useScopes()} />
        {scope !== "personal" && <Ticks label="Teams (none: everybody)" options={teams} {...form.bind("teams")} />}
        {scope === "fixed" && <Ticks label="What these teams may do with leads in it, whatever their role" options={acts} {...form.bind("acts")} />}
        {scope === "fixed" && <QuickConditions {...form.bind("quick")} where={view && where} />}
      </FormBox>
    </Overlay>
  );
}

const useScopes = () => [{ key: "personal", label: "only me" }, { key: "shared", label: "teams, and I change it" }, ...(useMay("setUp") ? [{ key: "fixed", label: "teams, and coordinators change it" }] : [])];

type QuickProps = { value: Quick; onChange: (quick: Quick) => void; error?: string; where?: Condition };

/** Conditions that are added with one press; the sentence as it stands can be made one. */
function QuickConditions({ value, onChange, error, where }: QuickProps) {
  const [label, setLabel] = useState("");
  const pin = () => {
    onChange([...value, { label: label.trim(), where }]);
    setLabel("");
  };
  return (
    <div>
      <Ticks label="Quick conditions, added with one press" options={value.map((q) => ({ key: q.label, label: q.label }))} value={value.map((q) => q.label)} onChange={(keys) => onChange(value.filter((q) => keys.includes(q.label)))} error={error} />
      {where && (
        <Row $align="end" $above={2}>
          <TextBox label="Pin the sentence as it stands now, as" value={label} onChange={setLabel} />
          <Button isDisabled={!label.trim() || value.some((q) => q.label === label.trim())} onPress={pin}>
            Pin
          </Button>
        </Row>
      )}
    </div>
  );
}
