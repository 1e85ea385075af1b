import { useState } from "react";
import { Form } from "react-aria-components";
import styled from "styled-components";
import { api, must, type Schema, type ApiError } from "../api/client";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { inDays } from "../parts/days";
import { DayBox } from "../parts/DayBox";
import { numberOf } from "../common/numbers";
import { NumberText } from "../common/NumberText";
import { useRefresh, useSession } from "../common/session";

const Pairs = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 12px 16px;
  > :first-child,
  > :last-child {
    grid-column: 1 / -1;
  }
`;

const nobody = "–";
const number = async (text: string, field: string) => (text.trim() ? await numberOf(text, field) : null);

type Props = { view: Schema["CampaignsView"]; sheet?: Schema["CampaignSheet"]; onDone: (key: string) => void };

/** Begins a campaign, or changes one. */
export function CampaignForm({ view, sheet, onDone }: Props) {
  const { timeZone } = useSession();
  const c = sheet?.campaign;
  const [said, setSaid] = useState({
    name: c?.name ?? "",
    kind: c?.kind ?? null,
    starts: c?.starts ?? inDays(0, timeZone),
    ends: c?.ends ?? inDays(0, timeZone),
    budget: c?.budget?.toString() ?? "",
    target: c?.target?.toString() ?? "",
    owner: sheet?.ownerId ?? nobody,
    about: sheet?.about ?? "",
  });
  const [trouble, setTrouble] = useState<{ field?: string; message: string }>();
  const refresh = useRefresh();
  const at = (field: string) => (trouble?.field === field ? trouble.message : undefined);
  const put = (more: Partial<typeof said>) => setSaid({ ...said, ...more });

  const keep = async () => {
    const unread = !said.starts ? "starts" : !said.ends ? "ends" : undefined;
    if (unread) return setTrouble({ field: unread, message: "Say on which day." });
    try {
      const [budget, target] = [await number(said.budget, "budget"), await number(said.target, "target")];
      if (target !== null && !Number.isInteger(target)) return setTrouble({ field: "target", message: "Write a whole number of people." });
      const body = { ...said, kind: said.kind ?? "", budget, target, owner: said.owner === nobody ? null : said.owner, retired: sheet?.retired ?? false };
      const key = c ? c.key : await must(api.POST("/api/campaigns", { body }));
      if (c) await must(api.PUT("/api/campaigns/{key}", { params: { path: { key: c.key } }, body, headers: { "If-Match": `"${sheet!.version}"` } }));
      await refresh();
      onDone(key);
    } catch (e) {
      setTrouble(e as ApiError);
    }
  };

  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <Pairs>
        <TextBox label="Name" autoFocus value={said.name} onChange={(name) => put({ name })} error={at("name")} />
        <ChoiceBox label="Kind" value={said.kind} options={view.kinds} onChange={(kind) => put({ kind })} error={at("kind")} />
        <ChoiceBox label="Who answers for it" value={said.owner} options={[{ key: nobody, label: "nobody yet" }, ...view.owners]} onChange={(owner) => put({ owner })} error={at("owner")} />
        <DayBox label="Begins" value={said.starts} onChange={(starts) => put({ starts })} error={at("starts")} />
        <DayBox label="Ends" value={said.ends} onChange={(ends) => put({ ends })} error={at("ends")} />
        <NumberText label="Budget, €" value={said.budget} onChange={(budget) => put({ budget })} error={at("budget")} />
        <NumberText label="New people wanted" value={said.target} onChange={(target) => put({ target })} error={at("target")} />
        <TextBox label="What it is about" lines value={said.about} onChange={(about) => put({ about })} error={at("about")} />
      </Pairs>
      {trouble && !trouble.field && <p role="alert" style={{ color: "var(--bad)", marginTop: 10 }}>{trouble.message}</p>}
      <div style={{ marginTop: 16 }}>
        <Button look="main" type="submit" isDisabled={!said.name.trim()}>
          {c ? "Keep" : "Begin"}
        </Button>
      </div>
    </Form>
  );
}
