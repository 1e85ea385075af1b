import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";
import { keys } from "../common/keys";

/** What is sold, with prices by currency. */
export const useProducts = () => useQuery({ queryKey: keys.products, staleTime: 300_000, queryFn: () => must(api.GET("/api/products")) });
