import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { keys } from "../common/keys";

export const useCampaigns = () => useQuery({ queryKey: keys.campaigns, queryFn: () => must(api.GET("/api/campaigns")) });

export const useCampaign = (key: string) => useQuery({ queryKey: keys.campaign(key), queryFn: () => must(api.GET("/api/campaigns/{key}", { params: { path: { key } } })) });

/** Members a page at a time; all, or those who gave one response. */
export const useMembers = (key: string, response: string | null) =>
  useInfiniteQuery({
    queryKey: keys.members(key, response),
    queryFn: ({ pageParam }) => must(api.GET("/api/campaigns/{key}/members", { params: { path: { key }, query: { response: response ?? undefined, after: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: (before) => before,
  });

/** How many members may be written to for a purpose. */
export const useAddresses = (key: string, purpose: string | null, response: string | null) =>
  useQuery({
    queryKey: keys.addresses(key, purpose, response),
    enabled: !!purpose,
    queryFn: () => must(api.GET("/api/campaigns/{key}/addresses", { params: { path: { key }, query: { purpose: purpose!, response: response ?? undefined } } })),
  });
