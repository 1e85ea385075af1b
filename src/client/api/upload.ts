import { api, must, setToken, toApiError } from "./client";

/** Sends a file as a part of a form, with texts beside it; progress is the share sent, 0 to 1. */
export function upload<T>(path: string, part: string, file: File, onProgress?: (share: number) => void, beside: Record<string, string> = {}): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    const body = new FormData();
    for (const [name, text] of Object.entries(beside)) body.append(name, text);
    body.append(part, file);
    request.open("POST", path);
    request.responseType = "json";
    if (onProgress) request.upload.onprogress = (e) => onProgress(e.loaded / e.total);
    request.onerror = () => reject(new Error("The file could not be sent. It is still on your disk; try again."));
    request.onload = () => (request.status < 300 ? resolve(request.response as T) : reject(toApiError(request.response, request.status)));
    void must(api.GET("/api/session")).then((s) => {
      setToken(s.token);
      request.setRequestHeader("X-Lantern-Token", s.token);
      request.send(body);
    }, reject);
  });
}
