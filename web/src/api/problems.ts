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

const UNREACHED: Problem = {
  type: "about:blank",
  title: "Wander's server does not answer",
  detail: "Nothing is lost: what you see is kept. It is tried again by itself.",
  status: 0,
  code: "not-allowed",
};

/** The problem in whatever was thrown. */
export function problemOf(error: unknown): Problem {
  if (error instanceof Refused) return error.problem;
  return { ...UNREACHED, detail: error instanceof TypeError ? UNREACHED.detail : String(error) };
}
