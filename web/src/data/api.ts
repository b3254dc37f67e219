/** The way to the server: one typed client, and errors as the problem documents that it sends. */
import createClient from "openapi-fetch";
import { saveStatus } from "./save-status";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type TaskRow = Schemas["TaskRow"];
export type Project = Schemas["ProjectOut"];
export type ProjectLine = Schemas["ProjectLineOut"];
export type Person = Schemas["PersonOut"];
export type State = Schemas["StateOut"];
export type ScopeAnswer = Schemas["ScopeOut"];
export type RowsAnswer = Schemas["RowsOut"];

export interface ClashField {
  task_id: string | null;
  field: string;
  yours: unknown;
  theirs: unknown;
  by: string;
}

/** What the server refused, and the sentence that says why. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly kind: string,
    readonly sentence: string,
    readonly field: string | null = null,
    readonly clashes: ClashField[] = [],
    readonly ripple: Schemas["RippleOut"] | null = null,
    readonly limits: Schemas["LimitPassedOut"][] = [],
    readonly limitRule: string | null = null,
  ) {
    super(sentence);
  }
}

/** What went wrong, in a sentence that can be shown. */
export const sentence = (error: unknown) =>
  error instanceof Problem ? error.sentence : error instanceof Error ? error.message : String(error);

export const OFFLINE = "The server cannot be reached. What you typed is kept and will be sent when it answers.";

function toProblem(status: number, body: unknown): Problem {
  const document = (body ?? {}) as Record<string, unknown>;
  const errors = document.errors as { field: string | null }[] | undefined;
  return new Problem(
    status,
    String(document.type ?? "unexpected").replace("/problems/", ""),
    String(document.detail ?? "Something went wrong on the server. Try again."),
    errors?.[0]?.field ?? null,
    (document.clashes as ClashField[]) ?? [],
    (document.ripple as Schemas["RippleOut"]) ?? null,
    (document.limits as Schemas["LimitPassedOut"][]) ?? [],
    (document.rule as string) ?? null,
  );
}

export const client = createClient<paths>({
  baseUrl: "/",
  headers: { "Rhodonite-Client": "web" },
  querySerializer: { array: { style: "form", explode: true } },
});

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** Unwrap an answer, or throw its problem. Status 0 means that nothing came back. */
export async function ask<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await request;
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new Problem(0, "offline", OFFLINE);
  }
  if (!answer.response.ok) throw toProblem(answer.response.status, answer.error);
  return answer.data as T;
}

/** A UUID of version 7 (RFC 9562): time first, so that rows made together lie together. */
export function newId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  let time = Date.now();
  for (let index = 5; index >= 0; index--) {
    bytes[index] = time % 256;
    time = Math.floor(time / 256);
  }
  bytes[6] = ((bytes[6] ?? 0) & 0x0f) | 0x70;
  bytes[8] = ((bytes[8] ?? 0) & 0x3f) | 0x80;
  const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, "0")).join("");
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-${hex.slice(12, 16)}-${hex.slice(16, 20)}-${hex.slice(20)}`;
}

/** Of a change its id, how it is to be taken where it moves other tasks, and the draft that it goes into. */
export type ChangeHeaders = {
  "Rhodonite-Change": string;
  "Rhodonite-Ripple"?: string;
  "Rhodonite-Draft"?: string;
  "Rhodonite-Reason"?: string;
};

/** How a change is to be taken where it moves other tasks, and the draft that it goes into. */
export interface How {
  consent?: string;
  draft?: string;
  /** why a limit of the board is passed */
  reason?: string;
}

const AGAIN = new Set([0, 502, 503, 504]);

let last: Promise<unknown> = Promise.resolve();

/** Resolves when every change made so far has arrived or was refused. */
export const allSent = () => last;

/**
 * Send a change, after those that were made before it, until it arrives. It carries an id of its own, so that sending
 * it again is harmless. While the server is away changes wait, and the sheet bar says so.
 *
 * This is a queue of our own: mutations of the query library go on only while the page is in front, so that what was
 * changed just before another tab was opened would not be sent.
 */
export function send<T>(make: (headers: ChangeHeaders) => Promise<Answer<T>>, how: How = {}): Promise<T> {
  saveStatus.begin();
  const mine = last.then(() => deliver(make, how)).finally(saveStatus.end);
  last = mine.catch(() => {});
  return mine;
}

async function deliver<T>(make: (headers: ChangeHeaders) => Promise<Answer<T>>, how: How = {}): Promise<T> {
  const headers: ChangeHeaders = { "Rhodonite-Change": newId() };
  if (how.consent) headers["Rhodonite-Ripple"] = how.consent;
  if (how.draft) headers["Rhodonite-Draft"] = how.draft;
  if (how.reason) headers["Rhodonite-Reason"] = encodeURIComponent(how.reason);
  for (let attempt = 0; ; attempt++) {
    try {
      const answer = await ask(make(headers));
      saveStatus.saved();
      return answer;
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      if (error.status === 401) await saveStatus.signInAgain();
      else if (AGAIN.has(error.status)) await saveStatus.waitOffline(Math.min(500 * 2 ** attempt, 2000));
      else throw error;
    }
  }
}
