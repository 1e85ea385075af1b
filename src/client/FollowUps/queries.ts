import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { plusDays, startOf } from "../parts/days";
import { keys } from "../common/keys";

/** What is dated from one day on, for so many days. */
export const useFollowUps = (from: string, days: number, who: string, zone: string) =>
  useQuery({
    queryKey: keys.followUps(from, days, who, zone),
    queryFn: () => must(api.GET("/api/follow-ups", { params: { query: { from: startOf(from, zone).toISOString(), to: startOf(plusDays(from, days), zone).toISOString(), who } } })),
    placeholderData: (before) => before,
  });

export const useCalendar = () => useQuery({ queryKey: keys.calendar, queryFn: () => must(api.GET("/api/calendar")) });
