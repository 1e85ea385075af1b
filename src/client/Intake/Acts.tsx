import { useState } from "react";
import { useNavigate } from "react-router";
import { api, must, type Schema } from "../api/client";
import { useAct } from "../common/acting";
import { useMay } from "../common/session";
import { Cluster } from "../parts/Bench";
import { Button } from "../parts/Button";
import { count, whole } from "../parts/format";
import { tellError } from "../parts/Toast";
import { inWords, takeable } from "./OutcomeBar";

type Import = Schema["ImportView"];

/** The acts on an import. Those that may take long end in the import's own state, which says itself what came of it. */
function useImportActs(imported: Import, unkept?: string) {
  const act = useAct();
  const navigate = useNavigate();
  const path = { params: { path: { id: imported.id } } };
  const changes = ["import", "lead"] as const;
  const takeBack = (force: boolean) => must(api.POST("/api/imports/{id}/take-back", { ...path, body: { force } }));
  const backWords = (done: Import) => (done.state !== "taken_back" ? undefined : done.left ? `Taken back, but for ${count(done.left, "row")} that people changed since.` : "Taken back; everything is as it was before.");
  const back = (force = false) => void act.run(() => takeBack(force), { changes, words: backWords });
  const take = () => {
    if (unkept) return tellError(new Error(`${unkept} Nothing was taken in.`));
    void act.run(() => must(api.POST("/api/imports/{id}/take-in", path)), { changes, words: (done) => (done.state === "taken" ? `Taken in: ${inWords(done.counts)}.` : undefined), back: () => takeBack(false), backWords });
  };
  const remove = () => void act.run(() => must(api.DELETE("/api/imports/{id}", path)), { changes, words: `${imported.fileName} is removed.`, then: () => void navigate("/intake") });
  return {
    busy: act.busy,
    take,
    back,
    remove,
    sift: () => void act.run(() => must(api.POST("/api/imports/{id}/sift", path)), { changes }),
    again: () => void act.run(() => must(api.POST("/api/imports/{id}/try-again", path)), { changes }),
    seeLeads: () => void navigate(`/leads?source=${imported.source}`),
  };
}

/** What can be done with an import as it stands: take in, take back, go on. */
export function Acts({ imported, unkept }: { imported: Import; unkept?: string }) {
  const acts = useImportActs(imported, unkept);
  const may = useMay("runIntake");
  if (!may) return null;
  const { state, left } = imported;
  const takes = takeable(imported.counts);
  return (
    <Cluster>
      {imported.trouble && (
        <Button look="main" isPending={acts.busy} onPress={acts.again}>
          Try again
        </Button>
      )}
      {state === "sifted" && (
        <Button look="main" isPending={acts.busy} isDisabled={takes === 0} onPress={acts.take}>
          {acts.busy ? "Taking in" : `Take ${whole(takes)} in`}
        </Button>
      )}
      {state === "taken" && <Taken imported={imported} acts={acts} />}
      {state === "taken_back" && (
        <Button look="main" isPending={acts.busy} onPress={acts.sift}>
          Sift it again
        </Button>
      )}
      {["sifting", "sifted", "taken_back"].includes(state) && <Remove words={state === "sifting" ? "Stop and remove" : "Remove"} acts={acts} />}
      {state === "taken_back" && left > 0 && (
        <Button look="bad" isPending={acts.busy} onPress={() => acts.back(true)}>
          Take the {count(left, "left row")} back too
        </Button>
      )}
    </Cluster>
  );
}

type ActsProps = { acts: ReturnType<typeof useImportActs> };

function Taken({ imported, acts }: ActsProps & { imported: Import }) {
  return (
    <>
      {imported.waiting > 0 && (
        <Button look="main" isPending={acts.busy} onPress={acts.take}>
          Take {count(imported.waiting, "mended row")} in
        </Button>
      )}
      <Button onPress={acts.seeLeads}>See the leads</Button>
      <Button look="bad" isPending={acts.busy} onPress={() => acts.back()}>
        Take back
      </Button>
    </>
  );
}

function Remove({ words, acts }: ActsProps & { words: string }) {
  const [sure, setSure] = useState(false);
  return sure ? (
    <Button look="bad" isPending={acts.busy} onPress={acts.remove}>
      Yes, remove it with its file
    </Button>
  ) : (
    <Button look="quiet" onPress={() => setSure(true)}>
      {words}
    </Button>
  );
}
