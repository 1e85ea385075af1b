import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";

/** The regions of some countries, as choices; none for none. */
export const useRegions = (countries: string[]) =>
  useQuery({
    queryKey: ["regions", countries.join()],
    enabled: countries.length > 0,
    staleTime: Infinity,
    queryFn: () => must(api.GET("/api/fields/regions", { params: { query: { countries: countries.join(",") } } })),
  });
