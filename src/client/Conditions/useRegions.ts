import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { keys } from "../common/keys";

/** The regions of some countries, as choices; none for none. */
export const useRegions = (countries: string[]) =>
  useQuery({
    queryKey: keys.regions(countries),
    enabled: countries.length > 0,
    staleTime: Infinity,
    queryFn: () => must(api.GET("/api/fields/regions", { params: { query: { countries: countries.join(",") } } })),
  });
