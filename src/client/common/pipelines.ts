import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { keys } from "./keys";

/** The pipelines a lead can be qualified for and handed over to. */
export const usePipelines = () => useQuery({ queryKey: keys.pipelines, staleTime: 300_000, queryFn: () => must(api.GET("/api/pipelines")) });
