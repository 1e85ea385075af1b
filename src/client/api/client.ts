import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schema = components["schemas"];

/** An expected refusal: the sentence is for people, `type` and `field` for the program. */
export class TroubleError extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly type: string,
    readonly field?: string,
  ) {
    super(message);
  }
}

let token = "";

/** Kept from the session; goes with every write. */
export const setToken = (value: string) => void (token = value);

export const api = createClient<paths>({ baseUrl: "/", credentials: "same-origin" });

api.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-Lantern-Token", token);
    return request;
  },
});

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** Waits for an answer and throws a {@link TroubleError} when it is not a good one. */
export async function must<T>(call: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await call.catch(() => {
    throw new TroubleError("The server cannot be reached. What you wrote is still here; try again.", 0, "unreachable");
  });
  if (response.ok) return data as T;
  throw toTrouble(error, response.status);
}

const words: Record<number, string> = {
  400: "The server did not understand this. Nothing was changed.",
  401: "You are signed out. Sign in again; what you wrote is still here.",
  403: "Your role may not do this.",
  404: "There is no such thing here.",
};

export function toTrouble(error: unknown, status: number): TroubleError {
  const problem = (typeof error === "object" && error !== null ? error : {}) as Record<string, unknown>;
  const said = status !== 403 || String(problem.type ?? "").startsWith("/problems/") ? (problem.detail as string) : undefined;
  const sentence = said ?? words[status] ?? "Something broke on the server. Nothing was changed; try again.";
  return new TroubleError(sentence, status, String(problem.type ?? ""), problem.field as string | undefined);
}
