import createClient from "openapi-fetch";
import type { components, paths } from "./generated/schema";
import { LastingRequest } from "./leaving";
import { noteSignedOut } from "./signedOut";

export const api = createClient<paths>({ baseUrl: "/", Request: LastingRequest });

export type Problem = components["schemas"]["Problem"];

/** A request that the server refused, or that never reached it (status 0). */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem | null,
    message: string,
  ) {
    super(message);
    this.name = "ApiError";
  }
}

function isProblem(value: unknown): value is Problem {
  return typeof value === "object" && value !== null && "detail" in value && "code" in value;
}

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The data of an answer; throws ApiError with the server's own sentence otherwise. */
export async function resultOf<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await request;
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new ApiError(0, null, "The server does not answer");
  }
  if (answer.response.ok && answer.data !== undefined) return answer.data;
  throw refusal(answer.response.status, answer.error);
}

/** What the server refused, in its own words where it gave any. */
export function refusal(status: number, error: unknown): ApiError {
  const problem = isProblem(error) ? error : null;
  if (status === 401 && problem?.code === "not_signed_in") noteSignedOut();
  return new ApiError(status, problem, problem?.detail ?? `The server answered ${status}`);
}
