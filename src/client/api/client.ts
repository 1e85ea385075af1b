import createClient from "openapi-fetch";
import type { components, paths } from "./schema";
import { Writes } from "./writes";

export type Schema = components["schemas"];

/** An expected refusal: the sentence is for people, `type` and `field` for the program. */
export class ApiError extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly type: string,
    readonly field?: string,
    /** Seconds after which the server says that one may ask again. */
    readonly after?: number,
  ) {
    super(message);
  }

  /** The server cannot be reached, or is busy, or its database is away: the same may be answered a little later. */
  get away() {
    return this.status === 0 || this.status === 503;
  }
}

const writes = new Writes();

/** The key a write goes with: the same for the same write (of the same version) until it is answered, so that the server does it once however often it is sent. */
const keyOf = async (request: Request) => writes.keyOf(`${request.method} ${request.url} ${request.headers.get("If-Match") ?? ""} ${await request.clone().text()}`);

let token = "";

/** Kept from the session; goes with every write. */
export const setToken = (value: string) => void (token = value);

export const api = createClient<paths>({ baseUrl: "/", credentials: "same-origin" });

api.use({
  async onRequest({ request }) {
    if (request.method === "GET") return request;
    request.headers.set("X-Lantern-Token", token);
    if (!request.headers.has("Idempotency-Key")) request.headers.set("Idempotency-Key", await keyOf(request));
    return request;
  },
  onResponse({ request, response }) {
    const key = request.headers.get("Idempotency-Key");
    // An answer of trouble says nothing of whether it was done.
    if (key && response.status < 500) writes.answered(key);
  },
});

const signedOut = "lantern:signed-out";

/** Calls back when the server says that the session has ended; gives the way to stop. */
export function onSignedOut(heard: () => void) {
  window.addEventListener(signedOut, heard);
  return () => window.removeEventListener(signedOut, heard);
}

const secondStep = "lantern:second-step";

/** Calls back when the server says that the role asks for a second step that this session began without; gives the way to stop. */
export function onSecondStep(heard: () => void) {
  window.addEventListener(secondStep, heard);
  return () => window.removeEventListener(secondStep, heard);
}

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** Waits for an answer and throws a {@link ApiError} when it is not a good one. */
export async function must<T>(call: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await call.catch(() => {
    throw new ApiError("The server cannot be reached. What you wrote is still here; try again.", 0, "unreachable");
  });
  if (response.ok) return data as T;
  if (response.status === 401 && !new URL(response.url).pathname.endsWith("/api/session")) window.dispatchEvent(new Event(signedOut));
  if (response.status === 403 && (error as { type?: string } | undefined)?.type === "/problems/second-step-missing") window.dispatchEvent(new Event(secondStep));
  throw toApiError(error, response.status, Number(response.headers.get("Retry-After")) || undefined);
}

const words: Record<number, string> = {
  400: "The server did not understand this. Nothing was changed.",
  401: "You are signed out. Sign in again; what you wrote is still here.",
  403: "Your role may not do this.",
  404: "There is no such thing here.",
  503: "The server is busy or its database away. Nothing was changed, and what you wrote is still here; try again in a few seconds.",
};

export function toApiError(error: unknown, status: number, after?: number): ApiError {
  const problem = (typeof error === "object" && error !== null ? error : {}) as Record<string, unknown>;
  const said = status !== 403 || String(problem.type ?? "").startsWith("/problems/") ? (problem.detail as string) : undefined;
  const sentence = said ?? words[status] ?? "Something broke on the server. Nothing was changed; try again.";
  return new ApiError(sentence, status, String(problem.type ?? ""), problem.field as string | undefined, after);
}
