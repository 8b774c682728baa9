import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";
import { t } from "./t";

export type Schemas = components["schemas"];
export type Problem = Schemas["ProblemOut"];

/** A refusal as the server words it; `problems` name the fields or file places to mend. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly problems: Problem[],
    /** Seconds after which the server asks to be asked again; 0 when it does not. */
    readonly retryAfter = 0,
  ) {
    super(message);
  }
}

let csrfToken = "";

/** Each session answer brings the token for the next change. */
export function keepToken(token: string): void {
  csrfToken = token;
}

const withToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrfToken);
    return request;
  },
};

export const client = createClient<paths>({
  // Whole addresses: outside a browser there is no page that one could be relative to.
  baseUrl: typeof location === "undefined" ? "" : location.origin,
  // Looked up each time: a test puts a server of its own there.
  fetch: (request) => globalThis.fetch(request),
});
client.use(withToken);

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer, or the refusal thrown; a lost connection says so plainly. */
export async function answered<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await call;
  } catch {
    throw new Refusal(0, t("api.theServerCantBeReachedCheckThe"), []);
  }
  if (answer.response.ok && answer.data !== undefined) return answer.data;
  const body = (answer.error ?? {}) as { message?: string; problems?: Problem[] };
  throw new Refusal(
    answer.response.status,
    body.message ?? t("api.somethingWentWrongNothingWasChanged"),
    body.problems ?? [],
    Number(answer.response.headers.get("Retry-After") ?? 0) || 0,
  );
}
