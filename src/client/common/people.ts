import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { keys } from "./keys";

/** The people leads can be given to, with whether they are away. */
export const usePeople = () => useQuery({ queryKey: keys.people, staleTime: 300_000, queryFn: () => must(api.GET("/api/people")) });
