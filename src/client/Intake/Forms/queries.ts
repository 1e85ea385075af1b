import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, must, type Schema } from "../../api/client";
import { keys } from "../../common/keys";
import { useKeeping, type KeepState } from "../../common/useKeeping";

export type Sheet = Schema["FormSheet"];
export type Words = Schema["FormText"];

export const useForms = () => useQuery({ queryKey: keys.forms, queryFn: () => must(api.GET("/api/forms")) });

export const useForm = (key: string) => useQuery({ queryKey: keys.form(key), queryFn: () => must(api.GET("/api/forms/{key}", { params: { path: { key } } })), refetchOnWindowFocus: false });

export const useWaiting = (form?: string) =>
  useQuery({ queryKey: keys.waiting(form), queryFn: () => must(api.GET("/api/arrivals", { params: { query: { state: "waiting", form } } })) });

/** The draft as it is being written: shown at once, kept on the server a moment later. */
export function useDraft(form: Schema["FormView"]) {
  const [draft, setDraft] = useState(form.draft);
  const [problems, setProblems] = useState(form.problems);
  const [state, setState] = useState<KeepState>("kept");
  const client = useQueryClient();
  const send = async (next: Sheet, version: string) => {
    const kept = await must(api.PUT("/api/forms/{key}/draft", { params: { path: { key: form.key } }, body: next, headers: { "If-Match": version } }));
    setProblems(kept.problems);
    void client.invalidateQueries({ queryKey: keys.form(form.key) });
    return kept;
  };
  const { keep, start } = useKeeping(form.version, send, setState);
  const change = (next: Sheet) => {
    setDraft(next);
    if (state === "stale") return;
    setState("keeping");
    keep(next);
  };
  /** Takes over what the server says, after going back to an edition. */
  const take = (view: Schema["FormView"]) => {
    start(view.version);
    setDraft(view.draft);
    setProblems(view.problems);
    setState("kept");
  };
  return { draft, setDraft: change, problems, state, take };
}

/** The page a draft would be, as the server makes it. */
export const usePreview = (draft: Sheet, language: string) =>
  useQuery({
    queryKey: keys.formPreview(draft, language),
    queryFn: async () => {
      const { data } = await api.POST("/api/forms/preview", { params: { query: { language } }, body: draft, parseAs: "text" });
      return data as unknown as string;
    },
    placeholderData: (before) => before,
    gcTime: 10_000,
  });
