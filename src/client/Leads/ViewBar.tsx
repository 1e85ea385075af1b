import { useState, type ReactNode } from "react";
import { useAct } from "../common/acting";
import { useRefresh } from "../common/refresh";
import { Button } from "../parts/Button";
import { Soft } from "../parts/Words";
import { ViewChoice, ViewRow } from "./ViewChoice";
import { ViewForm } from "./ViewForm";
import { viewActs, type View } from "./views";
import type { Work } from "./work";

type Props = { work: Work; views: View[]; wide: boolean; onOpen: (view: View) => void; children?: ReactNode };

/** The view one looks at, and keeping what was changed about it. */
export function ViewBar({ work, views, wide, onOpen, children }: Props) {
  const [naming, setNaming] = useState<"new" | "change" | null>(null);
  const refresh = useRefresh();
  const { view } = work;
  const body = { where: work.where, order: work.order, columns: work.columns, group: work.group, dense: work.dense, quick: view?.body.quick ?? null };
  const renamed = naming === "change" ? view : undefined;
  return (
    <ViewRow>
      <ViewChoice view={view} views={views} onOpen={onOpen} />
      {work.changed && view && <Changed view={view} body={body} onOpen={onOpen} />}
      {wide && (
        <Button look="quiet" onPress={() => setNaming("new")}>
          Keep as a new view
        </Button>
      )}
      {wide && view?.mayChange && (
        <Button look="quiet" onPress={() => setNaming("change")}>
          Name and who sees it
        </Button>
      )}
      {children}
      {naming && (
        <ViewForm
          key={naming}
          view={renamed}
          body={renamed?.body ?? body}
          where={work.where}
          onClose={() => setNaming(null)}
          onKept={(id) => void refresh(["views"]).then(() => id && onOpen({ id } as View))}
        />
      )}
    </ViewRow>
  );
}

/** Something differs from the view: it is kept so, or the view is shown as it was. */
function Changed({ view, body, onOpen }: { view: View; body: View["body"]; onOpen: (view: View) => void }) {
  const act = useAct();
  const write = (as: View["body"]) => ({ name: view.name, scope: view.scope, teams: view.teams, acts: view.acts, body: as });
  const keep = () =>
    act.run(() => viewActs.put(view, write(body), view.version), {
      changes: ["views"],
      words: `“${view.name}” is kept as you see it.`,
      back: () => viewActs.put(view, write(view.body)),
    });
  return (
    <>
      <Soft>changed</Soft>
      {view.mayChange && (
        <Button look="quiet" isPending={act.busy} onPress={() => void keep().then((done) => done && onOpen(view))}>
          Keep
        </Button>
      )}
      <Button look="quiet" onPress={() => onOpen(view)}>
        Back to how it was
      </Button>
    </>
  );
}
