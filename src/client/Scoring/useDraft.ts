import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";
import { useKeptDraft, type OnServer } from "../common/useKeptDraft";
import type { Model } from "./model";

const draftOf = (view: Schema["ScoringView"]): OnServer<Model> | null => view.draft && onServer(view.draft);

const onServer = (draft: Schema["DraftModel"]): OnServer<Model> => ({ body: draft.shown.model, note: draft.note, version: draft.version });

/** The draft of the scoring model; see {@link useKeptDraft}. */
export function useDraft(scoring: Schema["ScoringView"]) {
  const { body, read, ...draft } = useKeptDraft<Model, Schema["ScoringView"]>({
    key: keys.scoring,
    live: scoring.live.model,
    draft: draftOf(scoring),
    draftOf,
    fetch: () => must(api.GET("/api/scoring")),
    keep: ({ body: model, note }, version) => must(api.PUT("/api/scoring/draft", { body: { model, note }, headers: { "If-Match": version } })),
    drop: () => must(api.DELETE("/api/scoring/draft")),
    publish: (version) => must(api.POST("/api/scoring/publish", { headers: { "If-Match": version } })),
    back: (number) => must(api.POST("/api/scoring/editions/{number}/publish", { params: { path: { number } } })),
  });
  return {
    ...draft,
    model: body,
    /** Reads a file into the draft; gives what could not be read. */
    read: (text: string) =>
      read(async (version) => {
        const answer = await must(api.POST("/api/scoring/draft/file", { body: text as never, bodySerializer: (b: unknown) => String(b), headers: { "If-Match": version, "Content-Type": "application/json" } }));
        return { draft: onServer(answer.draft), problems: answer.problems };
      }),
  };
}

export type Draft = ReturnType<typeof useDraft>;
