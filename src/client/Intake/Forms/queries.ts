import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, must, ApiError, type Schema } from "../../api/client";
import { tellError } from "../../parts/Toast";
import { keys } from "../../common/keys";

export type Sheet = Schema["FormSheet"];
export type Words = Schema["FormText"];

export const useForms = () => useQuery({ queryKey: keys.forms, queryFn: () => must(api.GET("/api/forms")) });

export const useForm = (key: string) => useQuery({ queryKey: keys.form(key), queryFn: () => must(api.GET("/api/forms/{key}", { params: { path: { key } } })), refetchOnWindowFocus: false });

export const useWaiting = (form?: string) =>
  useQuery({ queryKey: keys.waiting(form), queryFn: () => must(api.GET("/api/arrivals", { params: { query: { state: "waiting", form } } })) });

const pause = 400;

/** The draft as it is being written: shown at once, kept on the server a moment later, one sending at a time. */
export function useDraft(form: Schema["FormView"]) {
  const [draft, setDraft] = useState(form.draft);
  const [problems, setProblems] = useState(form.problems);
  const [state, setState] = useState<"kept" | "keeping" | "stale">("kept");
  const version = useRef(form.version);
  const [sent, setSent] = useState(form.draft);
  const sending = useRef(false);
  const client = useQueryClient();
  useEffect(() => {
    if (draft === sent || state === "stale" || sending.current) return;
    const timer = setTimeout(async () => {
      sending.current = true;
      setState("keeping");
      try {
        const kept = await must(api.PUT("/api/forms/{key}/draft", { params: { path: { key: form.key } }, body: draft, headers: { "If-Match": `"${version.current}"` } }));
        version.current = kept.version;
        setSent(draft);
        setProblems(kept.problems);
        setState("kept");
        void client.invalidateQueries({ queryKey: keys.form(form.key) });
      } catch (e) {
        tellError(e);
        setState(e instanceof ApiError && e.status === 412 ? "stale" : "kept");
      } finally {
        sending.current = false;
      }
    }, pause);
    return () => clearTimeout(timer);
  }, [draft, sent, state, form.key, client]);
  /** Takes over what the server says, after going back to an edition. */
  const take = (view: Schema["FormView"]) => {
    version.current = view.version;
    setSent(view.draft);
    setDraft(view.draft);
    setProblems(view.problems);
    setState("kept");
  };
  return { draft, setDraft, problems, state: draft === sent || state === "stale" ? state : "keeping", take };
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
