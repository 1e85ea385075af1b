import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { useSettled } from "../parts/useSettled";
import type { Sheet } from "./sheet";
import { keys } from "../common/keys";

export const useRouting = () => useQuery({ queryKey: keys.routing, queryFn: () => must(api.GET("/api/routing")) });

export const useStaff = () => useQuery({ queryKey: keys.staff, queryFn: () => must(api.GET("/api/staff")) });

export const useEditions = () => useQuery({ queryKey: keys.routingEditions, queryFn: () => must(api.GET("/api/routing/editions")) });

/** What the checker says of a sheet. The last answer stands until the next one is there. */
export function useCheck(sheet: Sheet, enabled: boolean) {
  const settled = useSettled(sheet, 120);
  return useQuery({ queryKey: keys.check(settled), enabled, queryFn: () => must(api.POST("/api/routing/check", { body: settled })), placeholderData: keepPreviousData, gcTime: 60_000 });
}

/** The holes of a sheet with the real leads that fell in them. */
export function useHoles(sheet: Sheet, enabled: boolean) {
  const settled = useSettled(sheet, 400);
  return useQuery({ queryKey: keys.holes(settled), enabled, queryFn: () => must(api.POST("/api/routing/check/holes", { body: settled })), placeholderData: keepPreviousData, gcTime: 60_000 });
}

/** The last leads played through a sheet. */
export function usePlay(sheet: Sheet | undefined, last: number) {
  const settled = useSettled(sheet, 700);
  return useQuery({
    queryKey: keys.play(settled, last),
    enabled: !!settled,
    queryFn: () => must(api.POST("/api/routing/trial", { body: { sheet: settled!, last } })),
    placeholderData: keepPreviousData,
    gcTime: 60_000,
  });
}

type Staff = Schema["StaffView"];

/** A change of people, teams or hours, and the staff as it answers with; shown at once. */
export function useShowStaff() {
  const client = useQueryClient();
  return <T extends Staff>(staff: T) => {
    client.setQueryData(keys.staff, staff);
    return staff;
  };
}

export const staffActs = {
  person: (id: string, body: Schema["MemberOrder"]) => must(api.PUT("/api/staff/people/{id}", { params: { path: { id } }, body })),
  addTeam: (body: Schema["TeamOrder"]) => must(api.POST("/api/staff/teams", { body })),
  putTeam: (key: string, body: Schema["TeamOrder"]) => must(api.PUT("/api/staff/teams/{key}", { params: { path: { key } }, body })),
  dropTeam: (key: string) => must(api.DELETE("/api/staff/teams/{key}", { params: { path: { key } } })),
  addAbsence: (body: Schema["AbsenceOrder"]) => must(api.POST("/api/staff/absences", { body })),
  dropAbsence: (id: string) => must(api.DELETE("/api/staff/absences/{id}", { params: { path: { id } } })),
  addCalendar: (name: string, text: string) => must(api.POST("/api/staff/calendars", { params: { query: { name } }, body: text as never, bodySerializer: (sent: unknown) => String(sent), headers: { "Content-Type": "text/calendar" } })),
  dropCalendar: (key: string) => must(api.DELETE("/api/staff/calendars/{key}", { params: { path: { key } } })),
};
