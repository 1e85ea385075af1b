import { useState } from "react";
import { api, must } from "../api/client";
import { useForm } from "../common/form";
import { NamingForm } from "../common/NamingForm";
import { Button } from "../parts/Button";
import { Block } from "../parts/Layout";

/** One more stage, where its lane is missed; the rest of it is said under Setup, Pipelines. */
export function AddStage({ pipeline }: { pipeline: string }) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <Button look="quiet" onPress={() => setOpen(true)}>
        Add a stage
      </Button>
    );
  return (
    <Block $width={420} $above={2}>
      <Naming pipeline={pipeline} onLeave={() => setOpen(false)} />
    </Block>
  );
}

function Naming({ pipeline, onLeave }: { pipeline: string; onLeave: () => void }) {
  const form = useForm({ called: "the new stage", name: `new-stage:${pipeline}`, initial: { label: "" } });
  const add = () => form.send((body) => must(api.POST("/api/setup/pipelines/{key}/stages", { params: { path: { key: pipeline } }, body })), { changes: ["setup", "deal"], words: `The stage ${form.values.label} is added.`, then: onLeave });
  return <NamingForm form={form} label="Name of the stage" onAdd={add} onLeave={onLeave} />;
}
