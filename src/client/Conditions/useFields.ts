import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";

/** All that conditions may ask of a lead. */
export const useFields = () => useQuery({ queryKey: ["fields"], staleTime: 300_000, queryFn: () => must(api.GET("/api/fields")) });
