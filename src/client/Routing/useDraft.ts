import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";
import { useKeptDraft, type OnServer } from "../common/useKeptDraft";
import type { Sheet } from "./sheet";

const draftOf = (view: Schema["RoutingView"]): OnServer<Sheet> | null => view.draft && onServer(view.draft);

const onServer = (draft: Schema["DraftSheet"]): OnServer<Sheet> => ({ body: draft.shown.sheet, note: draft.note, version: draft.version });

/** The draft of the rule sheet; see {@link useKeptDraft}. */
export function useDraft(routing: Schema["RoutingView"]) {
  const { read, ...draft } = useKeptDraft<Sheet, Schema["RoutingView"]>({
    key: keys.routing,
    live: routing.live.sheet,
    draft: draftOf(routing),
    draftOf,
    fetch: () => must(api.GET("/api/routing")),
    keep: ({ body: sheet, note }, version) => must(api.PUT("/api/routing/draft", { body: { sheet, note }, headers: { "If-Match": version } })),
    drop: () => must(api.DELETE("/api/routing/draft")),
    publish: (version) => must(api.POST("/api/routing/publish", { headers: { "If-Match": version } })),
    back: (number) => must(api.POST("/api/routing/editions/{number}/publish", { params: { path: { number } } })),
  });
  return {
    ...draft,
    /** Reads a file of a form into the draft. */
    read: (text: string, form: string) =>
      read(async (version) => {
        const answer = await must(
          api.POST("/api/routing/draft/file", { params: { query: { form } }, body: text as never, bodySerializer: (b: unknown) => String(b), headers: { "If-Match": version, "Content-Type": "application/octet-stream" } }),
        );
        return { draft: onServer(answer.draft), problems: answer.problems };
      }),
  };
}

export type Draft = ReturnType<typeof useDraft>;
