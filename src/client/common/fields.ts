import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, must, type Schema } from "../api/client";
import { keys } from "./keys";

/** All that conditions may ask of a lead, with the values a choice may have. */
export const useFields = () => useQuery({ queryKey: keys.fields, staleTime: 300_000, queryFn: () => must(api.GET("/api/fields")) });

/** The choices of a field that are offered; one that is the value already stays. */
export const offered = (field: { choices: readonly Schema["FieldChoice"][] } | undefined, stored?: string | null) => field?.choices.filter((c) => !c.retired || c.key === stored) ?? [];

/** The words for the values of a field, such as its state or next move; the value itself until they are known. */
export function useLabels(field: string): (value: string) => string {
  const fields = useFields().data;
  return useMemo(() => {
    const labels = new Map(fields?.find((f) => f.key === field)?.choices.map((c) => [c.key, c.label]));
    return (value) => labels.get(value) ?? value;
  }, [fields, field]);
}
