import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, must } from "../api/client";
import { useForm } from "../common/form";
import { keys } from "../common/keys";
import { Button } from "../parts/Button";
import { NamingForm } from "../common/NamingForm";
import { Tabs } from "../parts/Tabs";
import { PipelineEditor } from "./PipelineEditor";
import { SetupPage } from "./SetupPage";

/** Pipelines: their stages and what each needs, what is asked before a lead is qualified, and how deals are named. */
export function PipelinesPage() {
  const setups = useQuery({ queryKey: keys.pipelineSetups, queryFn: () => must(api.GET("/api/setup/pipelines")) });
  const [chosen, setChosen] = useState<string>();
  return (
    <SetupPage title="Pipelines" intro="Ways of selling: what is asked before a lead is qualified, the stages of its deals, and what they are called." query={setups} beside={<Adding onAdded={setChosen} />}>
      {(all) => {
        const pipeline = all.pipelines.find((p) => p.key === chosen) ?? all.pipelines[0];
        if (!pipeline) return null;
        return (
          <>
            {all.pipelines.length > 1 && <Tabs label="Pipelines" tabs={all.pipelines.map((p) => ({ key: p.key, label: p.name }))} at={pipeline.key} onChoose={setChosen} />}
            <PipelineEditor key={`${pipeline.key} ${pipeline.version}`} pipeline={pipeline} all={all} />
          </>
        );
      }}
    </SetupPage>
  );
}

function Adding({ onAdded }: { onAdded: (key: string) => void }) {
  const [open, setOpen] = useState(false);
  if (!open) return <Button onPress={() => setOpen(true)}>New pipeline</Button>;
  return <Naming onAdded={onAdded} onLeave={() => setOpen(false)} />;
}

function Naming({ onAdded, onLeave }: { onAdded: (key: string) => void; onLeave: () => void }) {
  const form = useForm({ called: "the new pipeline", name: "new-pipeline", initial: { label: "" } });
  const add = () =>
    form.send((body) => must(api.POST("/api/setup/pipelines", { body })), {
      changes: ["setup"],
      then: (key) => {
        onAdded(key);
        onLeave();
      },
    });
  return <NamingForm form={form} label="Name of the pipeline" onAdd={add} onLeave={onLeave} />;
}
