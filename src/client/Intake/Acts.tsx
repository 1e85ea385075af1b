import { useState } from "react";
import { useNavigate } from "react-router";
import { api, must, type Schema } from "../api/client";
import { Cluster } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count, whole } from "../parts/format";
import { tell, tellError } from "../parts/Toast";
import { useMay, useRefresh } from "../common/session";
import { inWords, takeable } from "./OutcomeBar";

/** What can be done with an import as it stands: take in, take back, go on. */
export function Acts({ imported, unkept }: { imported: Schema["ImportView"]; unkept?: string }) {
  const [busy, setBusy] = useState(false);
  const refresh = useRefresh();
  const navigate = useNavigate();
  const may = useMay("runIntake");
  const path = { params: { path: { id: imported.id } } };

  const act = async (work: () => Promise<void>) => {
    setBusy(true);
    try {
      await work();
    } catch (e) {
      tellError(e);
    } finally {
      await refresh();
      setBusy(false);
    }
  };
  const back = (force = false) =>
    act(async () => {
      const done = await must(api.POST("/api/imports/{id}/take-back", { ...path, body: { force } }));
      if (done.state === "taken_back") tell(done.left ? `Taken back, but for ${count(done.left, "row")} that people changed since.` : "Taken back; everything is as it was before.");
    });
  const take = () =>
    act(async () => {
      if (unkept) throw new Error(`${unkept} Nothing was taken in.`);
      const done = await must(api.POST("/api/imports/{id}/take-in", path));
      if (done.state === "taken") tell(`Taken in: ${inWords(done.counts)}.`, () => back(), true);
    });
  const sift = () => act(async () => void (await must(api.POST("/api/imports/{id}/sift", path))));
  const [sure, setSure] = useState(false);
  const remove = () =>
    act(async () => {
      await must(api.DELETE("/api/imports/{id}", path));
      tell(`${imported.fileName} is removed.`);
      void navigate("/intake");
    });
  const again = () => act(async () => void (await must(api.POST("/api/imports/{id}/try-again", path))));

  if (!may) return null;
  return (
    <Cluster>
      {imported.trouble && (
        <Button look="main" isDisabled={busy} onPress={() => void again()}>
          Try again
        </Button>
      )}
      {imported.state === "sifted" && (
        <Button look="main" isDisabled={busy || takeable(imported.counts) === 0} onPress={() => void take()}>
          {busy ? "Taking in …" : `Take ${whole(takeable(imported.counts))} in`}
        </Button>
      )}
      {imported.state === "taken" && (
        <>
          {imported.waiting > 0 && (
            <Button look="main" isDisabled={busy} onPress={() => void take()}>
              Take {count(imported.waiting, "mended row")} in
            </Button>
          )}
          <Button isDisabled={busy} onPress={() => void navigate(`/leads?source=${imported.source}`)}>
            See the leads
          </Button>
          <Button look="bad" isDisabled={busy} onPress={() => void back()}>
            Take back
          </Button>
        </>
      )}
      {imported.state === "taken_back" && (
        <Button look="main" isDisabled={busy} onPress={() => void sift()}>
          Sift it again
        </Button>
      )}
      {["sifting", "sifted", "taken_back"].includes(imported.state) &&
        (sure ? (
          <Button look="bad" isDisabled={busy} onPress={() => void remove()}>
            Yes, remove it with its file
          </Button>
        ) : (
          <Button look="quiet" isDisabled={busy} onPress={() => setSure(true)}>
            {imported.state === "sifting" ? "Stop and remove" : "Remove"}
          </Button>
        ))}
      {imported.state === "taken_back" && imported.left > 0 && (
        <Button look="bad" isDisabled={busy} onPress={() => void back(true)}>
          Take the {count(imported.left, "left row")} back too
        </Button>
      )}
    </Cluster>
  );
}
