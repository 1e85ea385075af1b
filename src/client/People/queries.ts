import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";

export type PersonLine = Schema["PersonLine"];
export type PersonOrder = Schema["PersonOrder"];
export type OneTimeLink = Schema["OneTimeLink"];

export const usePeopleHere = () => useQuery({ queryKey: keys.administeredPeople, queryFn: () => must(api.GET("/api/setup/people")) });

const at = (id: string) => ({ params: { path: { id } } });

export const peopleActs = {
  invite: (body: PersonOrder) => must(api.POST("/api/setup/people", { body })),
  read: (text: string) => must(api.POST("/api/setup/people/read", { body: { text } })),
  inviteSeveral: (people: PersonOrder[], send: boolean) => must(api.POST("/api/setup/people/several", { body: { people, send } })),
  change: (person: PersonLine, body: PersonOrder) => must(api.PUT("/api/setup/people/{id}", { ...at(person.id), headers: { "If-Match": `"${person.version}"` }, body })),
  link: (id: string, send: boolean) => must(api.POST("/api/setup/people/{id}/link", { ...at(id), body: { send } })),
  endSecondStep: (id: string) => must(api.POST("/api/setup/people/{id}/second-step/end", at(id))),
  suspend: (id: string) => must(api.POST("/api/setup/people/{id}/suspend", at(id))),
  comeBack: (id: string) => must(api.POST("/api/setup/people/{id}/return", at(id))),
};
