import type { Problem } from "./types";

/** A refusal by the server, or the silence of one. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }

  get code(): string {
    return this.problem.code;
  }
}

/** The server was not to be reached, or went away before it answered. */
export class Unreached extends Error {}

/** A request to the server. Throws Unreached. */
export async function heard(...asked: Parameters<typeof fetch>): Promise<Response> {
  try {
    return await fetch(...asked);
  } catch {
    throw new Unreached("The server does not answer");
  }
}

const UNREACHED: Problem = {
  type: "about:blank",
  title: "Wander's server does not answer",
  detail: "What was kept is safe there. Once it is back, everything goes on.",
  status: 0,
  code: "not-allowed",
};

/** The problem in whatever was thrown. */
export function problemOf(error: unknown): Problem {
  if (error instanceof Refused) return error.problem;
  if (error instanceof Unreached) return UNREACHED;
  return { ...UNREACHED, title: "Something went wrong in the page", detail: String(error) };
}
