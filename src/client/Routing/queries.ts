import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
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

/** What was changed, and everything that shows it. */
export function useStaffChange() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (ask: () => Promise<Schema["StaffView"]>) => ask(),
    onSuccess: async (staff) => {
      client.setQueryData(keys.staff, staff);
      await Promise.all([client.invalidateQueries({ queryKey: keys.routing }), client.invalidateQueries({ queryKey: keys.people })]);
    },
  });
}
