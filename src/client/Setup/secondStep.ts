import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";
import { makePasskey } from "../common/passkeys";

export type SecondStepView = Schema["SecondStepView"];

export const useSecondStep = () => useQuery({ queryKey: keys.secondStep, queryFn: () => must(api.GET("/api/session/second-step")) });

export const secondStepActs = {
  newKey: (password: string) => must(api.POST("/api/session/second-step/codes/key", { body: { password } })),
  confirm: (code: string) => must(api.POST("/api/session/second-step/codes", { body: { code } })),
  endCodes: (password: string) => must(api.POST("/api/session/second-step/codes/end", { body: { password } })),
  recovery: (password: string) => must(api.POST("/api/session/second-step/recovery", { body: { password } })),
  addPasskey: async (password: string, name: string) => {
    const { options } = await must(api.POST("/api/session/second-step/passkeys/options", { body: { password } }));
    return must(api.POST("/api/session/second-step/passkeys", { body: { credential: await makePasskey(options), name } }));
  },
  endPasskey: (id: string, password: string) => must(api.POST("/api/session/second-step/passkeys/{id}/end", { params: { path: { id } }, body: { password } })),
};
