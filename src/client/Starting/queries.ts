import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";

export type Start = Schema["StartView"];
export type Step = "company" | "mail" | "people" | "ways" | "set" | "leads" | "handover";

export const useStart = () => useQuery({ queryKey: keys.start, queryFn: () => must(api.GET("/api/start")) });

export const startActs = {
  leave: (step: Step) => must(api.POST("/api/start/leave", { body: { step } })),
  choose: (ways: string[]) => must(api.PUT("/api/start/ways", { body: { ways } })),
  put: (set: string, teams: Record<string, string>) => must(api.POST("/api/start/set", { body: { set, teams } })),
  takeBack: () => must(api.DELETE("/api/start/set")),
  end: () => must(api.POST("/api/start/end")),
};
