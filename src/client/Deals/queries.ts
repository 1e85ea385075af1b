import { useQuery } from "@tanstack/react-query";
import { api, must } from "../api/client";

/** What is sold, with prices by currency. */
export const useProducts = () => useQuery({ queryKey: ["products"], staleTime: 300_000, queryFn: () => must(api.GET("/api/products")) });
