import { useState } from "react";
import { api, must, ApiError, type Schema } from "../api/client";
import { Button } from "../parts/Button";
import { Overlay } from "../parts/Dialog";
import { ChoiceBox, TextBox } from "../parts/Field";
import { Ticks } from "../parts/Ticks";
import { tell, tellError } from "../parts/Toast";
import { useMay } from "../Setup/session";
import type { Condition } from "../Conditions/conditions";
import { useFields } from "../Conditions/useFields";
import type { View } from "./work";

const acts = [
  { key: "give", label: "give to somebody" },
  { key: "delete", label: "remove" },
  { key: "hand_over", label: "hand over" },
  { key: "export", label: "download" },
];

type Props = { view?: View; body: Schema["ViewBody"]; where: Condition; onClose: () => void; onKept: (id: string | null) => void };

/** Name of a view, who sees it, and for a fixed one what its teams may do in it. */
export function ViewForm({ view, body, where, onClose, onKept }: Props) {
  const maySetUp = useMay("setUp");
  const fields = useFields();
  const teams = fields.data?.find((f) => f.key === "team")?.choices ?? [];
  const [draft, setDraft] = useState({ name: view?.name ?? "", scope: view?.scope ?? "personal", teams: view?.teams ?? [], acts: view?.acts ?? [] });
  const [quick, setQuick] = useState(body.quick ?? []);
  const [pinned, setPinned] = useState("");
  const [trouble, setTrouble] = useState<ApiError>();
  const set = (changes: Partial<typeof draft>) => setDraft({ ...draft, ...changes });
  const error = (field: string) => (trouble?.field === field ? trouble.message : undefined);
  const scopes = [{ key: "personal", label: "only me" }, { key: "shared", label: "teams, and I change it" }, ...(maySetUp ? [{ key: "fixed", label: "teams, and coordinators change it" }] : [])];
  const run = async (work: () => Promise<string | null>, words: string) => {
    try {
      const id = await work();
      tell(words);
      onKept(id);
      onClose();
    } catch (e) {
      if (e instanceof ApiError && e.field) setTrouble(e);
      else tellError(e);
    }
  };
  const keep = () => {
    const write = { ...draft, body: { ...body, quick } };
    return view
      ? run(async () => (await must(api.PUT("/api/views/{id}", { params: { path: { id: view.id } }, headers: { "If-Match": `"${view.version}"` }, body: write })), null), `“${draft.name}” is changed.`)
      : run(() => must(api.POST("/api/views", { body: write })), `“${draft.name}” is kept.`);
  };
  const away = () => view && run(async () => (await must(api.DELETE("/api/views/{id}", { params: { path: { id: view.id } } })), null), `“${view.name}” is put away.`);
  return (
    <Overlay title={view ? "Name and who sees it" : "Keep as a new view"} isOpen onClose={onClose} width={460}>
      <form
        style={{ display: "flex", flexDirection: "column", gap: 14 }}
        onSubmit={(e) => {
          e.preventDefault();
          void keep();
        }}
      >
        <TextBox label="Name" value={draft.name} onChange={(name) => set({ name })} error={error("name")} autoFocus />
        <ChoiceBox label="Who sees it" value={draft.scope} options={scopes} onChange={(scope) => set({ scope })} error={error("scope")} />
        {draft.scope !== "personal" && <Ticks label="Teams (none: everybody)" options={teams} value={draft.teams} onChange={(keys) => set({ teams: keys })} error={error("teams")} />}
        {draft.scope === "fixed" && <Ticks label="What these teams may do with leads in it, whatever their role" options={acts} value={draft.acts} onChange={(keys) => set({ acts: keys })} error={error("acts")} />}
        {draft.scope === "fixed" && (
          <div>
            <Ticks label="Quick conditions, added with one press" options={quick.map((q) => ({ key: q.label, label: q.label }))} value={quick.map((q) => q.label)} onChange={(keys) => setQuick(quick.filter((q) => keys.includes(q.label)))} error={error("quick")} />
            {view && (
              <div style={{ display: "flex", gap: 8, alignItems: "end", marginTop: 8 }}>
                <TextBox label="Pin the sentence as it stands now, as" value={pinned} onChange={setPinned} />
                <Button
                  isDisabled={!pinned.trim() || quick.some((q) => q.label === pinned.trim())}
                  onPress={() => {
                    setQuick([...quick, { label: pinned.trim(), where }]);
                    setPinned("");
                  }}
                >
                  Pin
                </Button>
              </div>
            )}
          </div>
        )}
        <div style={{ display: "flex", gap: 10 }}>
          <Button look="main" type="submit">
            Keep
          </Button>
          <Button onPress={onClose}>Cancel</Button>
          {view && (
            <span style={{ marginLeft: "auto" }}>
              <Button look="bad" onPress={() => void away()}>
                Put away
              </Button>
            </span>
          )}
        </div>
      </form>
    </Overlay>
  );
}
