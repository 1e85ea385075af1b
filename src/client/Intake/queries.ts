import { useQuery } from "@tanstack/react-query";
import { api, must, setToken, toTrouble, type Schema } from "../api/client";

export const useIntake = () => useQuery({ queryKey: ["intake"], queryFn: () => must(api.GET("/api/intake")) });

export const useDelivery = (id: string) => useQuery({ queryKey: ["delivery", id], queryFn: () => must(api.GET("/api/deliveries/{id}", { params: { path: { id } } })) });

export const useRows = (id: string, outcome: string | null, after: number, sifted: unknown) =>
  useQuery({
    queryKey: ["delivery-rows", id, outcome, after, sifted],
    queryFn: () => must(api.GET("/api/deliveries/{id}/rows", { params: { path: { id }, query: { outcome: outcome ?? undefined, after } } })),
    placeholderData: (before) => before,
  });

/** Sends a list to the sieve; progress is the share sent, 0 to 1. */
export function dropList(file: File, onProgress: (share: number) => void): Promise<Schema["SieveView"]> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const body = new FormData();
    body.append("file", file);
    request.open("POST", "/api/deliveries");
    request.responseType = "json";
    request.upload.onprogress = (e) => onProgress(e.loaded / e.total);
    request.onerror = () => reject(new Error("The list could not be sent. It is still on your disk; try again."));
    request.onload = () => (request.status === 200 ? resolve(request.response as Schema["SieveView"]) : reject(toTrouble(request.response, request.status)));
    void must(api.GET("/api/session")).then((s) => {
      setToken(s.token);
      request.setRequestHeader("X-Lantern-Token", s.token);
      request.send(body);
    }, reject);
  });
}
