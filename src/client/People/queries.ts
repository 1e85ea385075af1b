import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";

export type PersonLine = Schema["PersonLine"];
export type PersonOrder = Schema["PersonOrder"];
export type OneTimeLink = Schema["OneTimeLink"];

export const usePeopleHere = () => useQuery({ queryKey: keys.administeredPeople, queryFn: () => must(api.GET("/api/setup/people")) });

export type Roles = Schema["RolesView"];
export type RoleLine = Schema["RoleView"];
export type RoleOrder = Schema["RoleOrder"];

export const useRoles = () => useQuery({ queryKey: keys.roles, queryFn: () => must(api.GET("/api/setup/roles")) });

const ofRole = ({ key, version }: RoleLine) => ({ params: { path: { key } }, headers: { "If-Match": `"${version}"` } });

export const roleActs = {
  make: (body: RoleOrder) => must(api.POST("/api/setup/roles", { body })),
  change: (role: RoleLine, body: RoleOrder) => must(api.PUT("/api/setup/roles/{key}", { ...ofRole(role), body })),
  drop: (role: RoleLine) => must(api.DELETE("/api/setup/roles/{key}", { params: { path: { key: role.key } } })),
  /** The role as it was before it was dropped. */
  bringBack: (role: RoleLine) => (role.isShipped ? roleActs.change({ ...role, version: 0 }, role.role) : roleActs.make(role.role)),
};

export type PersonRights = Schema["PersonRights"];
export type RecordRights = Schema["RecordRights"];

export const useRights = (id: string) => useQuery({ queryKey: keys.rights(id), queryFn: () => must(api.GET("/api/setup/rights/{id}", at(id))) });

export const useRecordRights = (id: string, kind: string, record: string) =>
  useQuery({ queryKey: keys.recordRights(id, kind, record), queryFn: () => must(api.GET("/api/setup/rights/{id}/{kind}/{record}", { params: { path: { id, kind, record } } })) });

const at = (id: string) => ({ params: { path: { id } } });

export const peopleActs = {
  invite: (body: PersonOrder) => must(api.POST("/api/setup/people", { body })),
  read: (text: string) => must(api.POST("/api/setup/people/read", { body: { text } })),
  inviteSeveral: (people: PersonOrder[], send: boolean) => must(api.POST("/api/setup/people/several", { body: { people, send } })),
  change: (person: PersonLine, body: PersonOrder) => must(api.PUT("/api/setup/people/{id}", { ...at(person.id), headers: { "If-Match": `"${person.version}"` }, body })),
  link: (id: string, send: boolean) => must(api.POST("/api/setup/people/{id}/link", { ...at(id), body: { send } })),
  endSecondStep: (id: string) => must(api.POST("/api/setup/people/{id}/second-step/end", at(id))),
  endProvider: (id: string) => must(api.POST("/api/setup/people/{id}/provider/end", at(id))),
  suspend: (id: string) => must(api.POST("/api/setup/people/{id}/suspend", at(id))),
  comeBack: (id: string) => must(api.POST("/api/setup/people/{id}/return", at(id))),
};

export type Provider = Schema["ProviderView"];
export type ProviderOrder = Schema["ProviderOrder"];

export const useProvider = () => useQuery({ queryKey: keys.provider, queryFn: () => must(api.GET("/api/setup/provider")) });

export const providerActs = {
  keep: (version: number, body: ProviderOrder) => must(api.PUT("/api/setup/provider", { headers: { "If-Match": `"${version}"` }, body })),
  ask: (body: ProviderOrder) => must(api.POST("/api/setup/provider/trial", { body })),
};
