import { useState } from "react";
import { api, must } from "../api/client";
import { useActing } from "../common/acting";
import { Button } from "../parts/Button";
import { NamingForm } from "../parts/NamingForm";

/** One more stage, where its lane is missed; the rest of it is said under Setup, Pipelines. */
export function AddStage({ pipeline }: { pipeline: string }) {
  const [name, setName] = useState<string>();
  const act = useActing();
  const add = async () => {
    const done = await act(() => must(api.POST("/api/setup/pipelines/{key}/stages", { params: { path: { key: pipeline } }, body: { label: name ?? "" } })), `The stage ${name} is added.`);
    if (done) setName(undefined);
  };
  if (name === undefined)
    return (
      <Button look="quiet" onPress={() => setName("")}>
        Add a stage
      </Button>
    );
  return (
    <div style={{ maxWidth: 420, marginTop: 8 }}>
      <NamingForm label="Name of the stage" name={name} onName={setName} onAdd={() => void add()} />
    </div>
  );
}
