import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "@/api/schema";
import { session } from "@/session";

type Schemas = components["schemas"];
export type Site = Schemas["Site"];
export type Figures = Schemas["Figures"];
export type PagePictureKind = Schemas["PagePicture"]["kind"];
export type Sweep = Schemas["Sweep"];
export type Progress = Schemas["Progress"];
export type Finding = Schemas["Finding"];
export type Reading = Schemas["Reading"];
export type FindingInFull = Schemas["FindingInFull"];
export type CheckHelp = Schemas["CheckHelp"];
export type Me = Schemas["Me"];
export type PasswordStrength = Schemas["PasswordStrength"];
export type Cause = Schemas["Cause"];
export type Fix = Schemas["Fix"];
export type FixInFull = Schemas["FixInFull"];
export type OwnerChoice = Schemas["OwnerChoice"];
export type FixEvent = Schemas["FixEvent"];
export type Section = Schemas["Section"];
export type LiveEvent = Schemas["LiveEvent"];
export type FoundThing = Schemas["FoundThing"];
export type ReadingInFull = Schemas["ReadingInFull"];
export type Changes = Schemas["Changes"];
export type Policy = Schemas["Policy"];
export type PolicyField = Schemas["PolicyField"];
export type GateRules = Schemas["GateRules"];
export type SectionRules = Schemas["SectionRules"];
export type LibraryText = Schemas["LibraryText"];
export type PictureFile = Schemas["PictureFile"];
export type ColourPair = Schemas["ColourPair"];
export type Clearance = Schemas["Clearance"];
export type JudgedFinding = Schemas["JudgedFinding"];
export type Release = Schemas["Release"];
export type AskedQuestion = Schemas["AskedQuestion"];
export type FaultSeen = Schemas["FaultSeen"];
export type Correction = Schemas["Correction"];
export type SavedView = Schemas["NewFilter"]["view"];

/** A problem document (RFC 9457) as an error. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    detail: string,
  ) {
    super(detail);
  }
}

const guard: Middleware = {
  onRequest({ request }) {
    const token = session.me?.csrf_token;
    if (token && request.method !== "GET") request.headers.set("X-CSRF-Token", token);
    return request;
  },
  async onResponse({ response }) {
    if (response.ok) return response;
    const body = await response
      .clone()
      .json()
      .catch(() => ({}));
    if (response.status === 401) session.me = null;
    throw new Problem(
      response.status,
      body.code ?? "error",
      body.detail ?? `The service answered ${response.status}.`,
    );
  },
};

export const api = createClient<paths>({ baseUrl: "/" });
api.use(guard);

/** A key that makes repeating a write safe. (crypto.randomUUID is not there on plain HTTP.) */
export function uniqueKey(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) =>
    byte.toString(16).padStart(2, "0"),
  ).join("");
}

/** The data of an answer; errors were thrown before. */
export async function data<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}

/** The owner that a choice of OwnerPick stands for: null for whoever answers for the pages. */
export function ownerOf(choice: string): OwnerChoice | null {
  if (choice === "area") return null;
  const number = Number(choice.slice(1));
  return {
    person_id: choice.startsWith("p") ? number : null,
    group_id: choice.startsWith("g") ? number : null,
    ...(choice === "author" ? { author: true } : {}),
  } as OwnerChoice;
}
