import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, type Schema } from "../api/client";
import { useActing, useSending } from "../common/acting";
import { Bench, Head, Inner, Pane } from "../parts/Bench";
import { Button } from "../parts/Button";
import { ChoiceBox, TextBox } from "../parts/Field";
import { numberOf } from "../common/numbers";
import { NumberText } from "../common/NumberText";
import { NamingForm } from "../parts/NamingForm";
import { Skeleton, ErrorNote } from "../parts/States";
import { Tabs } from "../parts/Tabs";
import { tell } from "../parts/Toast";
import { useRefresh } from "../common/session";
import { QuestionRows } from "./QuestionRows";
import { StageRows } from "./StageRows";
import { ThresholdText } from "./ThresholdText";
import { keys } from "../common/keys";

type Setup = Schema["PipelineSetup"];

/** Pipelines: their stages and what each needs, what is asked before a lead is qualified, and how deals are named. */
export function PipelinesPage() {
  const setups = useQuery({ queryKey: keys.pipelineSetups, queryFn: () => must(api.GET("/api/setup/pipelines")) });
  const [chosen, setChosen] = useState<string>();
  if (setups.isPending) return <Skeleton />;
  if (setups.isError) return <ErrorNote error={setups.error} />;
  const { pipelines } = setups.data;
  const pipeline = pipelines.find((p) => p.key === chosen) ?? pipelines[0];
  return (
    <Bench>
      <Pane>
        <Inner>
          <Head>
            <div>
              <h1>Pipelines</h1>
              <p>Ways of selling: what is asked before a lead is qualified, the stages of its deals, and what they are called.</p>
            </div>
            <Adding onAdded={setChosen} />
          </Head>
          {pipelines.length > 1 && pipeline && <Tabs label="Pipelines" tabs={pipelines.map((p) => ({ key: p.key, label: p.name }))} at={pipeline.key} onChoose={setChosen} />}
          {pipeline && <Editor key={`${pipeline.key} ${pipeline.version}`} pipeline={pipeline} all={setups.data} />}
        </Inner>
      </Pane>
    </Bench>
  );
}

function Adding({ onAdded }: { onAdded: (key: string) => void }) {
  const [name, setName] = useState<string>();
  const act = useActing();
  const add = () =>
    act(async () => {
      const key = await must(api.POST("/api/setup/pipelines", { body: { label: name ?? "" } }));
      setName(undefined);
      onAdded(key);
    });
  if (name === undefined) return <Button onPress={() => setName("")}>New pipeline</Button>;
  return <NamingForm label="Name of the pipeline" name={name} onName={setName} onAdd={() => void add()} />;
}

function Editor({ pipeline, all }: { pipeline: Setup; all: Schema["PipelineSetups"] }) {
  const [draft, setDraft] = useState({ ...pipeline, usual: String(pipeline.usualDays) });
  const { busy, send, said, whole } = useSending();
  const refresh = useRefresh();
  const put = (change: Partial<typeof draft>) => setDraft({ ...draft, ...change });
  const keep = () =>
    send(async () => {
      const { name, nameForm, currency, questions, threshold, stages } = draft;
      await must(
        api.PUT("/api/setup/pipelines/{key}", {
          params: { path: { key: pipeline.key } },
          headers: { "If-Match": `"${pipeline.version}"` },
          body: { name, nameForm, currency, questions, threshold, stages, usualDays: Math.round(await numberOf(draft.usual, "usualDays")) },
        }),
      );
      tell(`${name} is kept.`);
      await refresh();
    });
  const stageError = (i: number) => said(`stages.${i}`);
  return (
    <form
      style={{ display: "grid", gap: 18, maxWidth: 980 }}
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <div style={{ display: "grid", gridTemplateColumns: "1fr 2fr 130px 110px", gap: 12 }}>
        <TextBox label="Name" value={draft.name} onChange={(name) => put({ name })} error={said("name")} />
        <TextBox label="Deals are called" value={draft.nameForm} onChange={(nameForm) => put({ nameForm })} error={said("nameForm")} hint={`Places: ${all.places.map((p) => `{${p.key}}`).join(" ")} and the keys of fields.`} />
        <NumberText label="Usual days to close" value={draft.usual} onChange={(usual) => put({ usual })} error={said("usualDays")} />
        <ChoiceBox label="Currency" value={draft.currency} options={["EUR", "GBP", "NOK", "SEK", "DKK", "CHF", "USD", "CAD"].map((c) => ({ key: c, label: c }))} onChange={(currency) => put({ currency })} error={said("currency")} />
      </div>
      <section>
        <h2>Qualified when</h2>
        <ThresholdText threshold={draft.threshold} questions={draft.questions} onChange={(threshold) => put({ threshold })} error={said("threshold")} />
      </section>
      <section>
        <h2>Questions of its own</h2>
        <QuestionRows questions={draft.questions} onChange={(questions) => put({ questions })} error={said("questions")} />
      </section>
      <section>
        <h2>Stages</h2>
        <StageRows stages={draft.stages} needs={all.needs} onChange={(stages) => put({ stages })} error={said("stages")} errorOf={stageError} />
      </section>
      {whole && (
        <p role="alert" style={{ color: "var(--bad)" }}>
          {whole}
        </p>
      )}
      <div>
        <Button type="submit" look="main" isDisabled={busy}>
          Keep {draft.name}
        </Button>
      </div>
    </form>
  );
}
