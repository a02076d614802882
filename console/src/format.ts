import { LABELS_AFTER, NOTIFICATION_LABELS, STATE_LABELS } from "@/terms";

const when = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium", timeStyle: "short" });
const plain = new Intl.NumberFormat("en-GB");

/** A point in time for reading: "23 Nov 2026, 08:00". */
export function time(iso: string): string {
  return when.format(new Date(iso));
}

export function number(value: number): string {
  return plain.format(value);
}

/** "1 page", "2 pages". */
export function count(value: number, one: string, many = `${one}s`): string {
  return `${number(value)} ${value === 1 ? one : many}`;
}

/** What went wrong, for a person. */
export function says(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}

const date = new Intl.DateTimeFormat("en-GB", { dateStyle: "medium" });

/** A day for reading: "23 Nov 2026". */
export function day(iso: string): string {
  return date.format(new Date(`${iso.slice(0, 10)}T12:00:00`));
}

/** What the state of a fix is called; the second is the state that it was reopened from. */
export function stateName(state: string, reopenedAfter?: string | null): string {
  return LABELS_AFTER[`${state} after ${reopenedAfter}`] ?? STATE_LABELS[state] ?? state;
}

/** What a notification is called, by the same table. */
export function notificationName(kind: string, reopenedAfter?: string | null): string {
  const after = LABELS_AFTER[`${kind} after ${reopenedAfter}`];
  return after ? capital(after) : (NOTIFICATION_LABELS[kind] ?? kind);
}

/** Words with a capital at the beginning, for a heading. */
export function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** Whether a page is ready, in words: what does not hold it is said too. */
export function readiness(page: {
  status: string;
  ready: boolean;
  failed: number;
  left_out_page?: boolean;
}): string {
  if (page.left_out_page) return "left out";
  if (page.status !== "read") return "not read";
  if (!page.ready) return "not ready";
  return page.failed ? `ready, ${count(page.failed, "lesser fault")}` : "ready";
}

/** So many days from today, as an input of type date takes it. */
export function inDays(days: number): string {
  const then = new Date(Date.now() + days * 86_400_000);
  return [then.getFullYear(), then.getMonth() + 1, then.getDate()]
    .map((part) => String(part).padStart(2, "0"))
    .join("-");
}

const MOVES: Record<string, string> = {
  make: "handed it out",
  take: "took it",
  put_back: "put it back",
  assign: "handed it on",
  due: "set the day",
  note: "wrote",
  propose: "proposed a mend",
  hand_in: "handed it in",
  withdraw: "took the hand-in back",
  waive: "waived it",
  end_waiver: "ended the waiver",
  prove: "proved it",
  reopen: "found it there",
  page_gone: "found its pages gone",
  page_back: "found it again",
  unproven: "could not tell",
};

/** What somebody did with a fix: "took it". */
export function moveName(move: string): string {
  return MOVES[move] ?? move;
}

/** Who moved a fix: a person, the reading, or the calendar. */
export function moverName(event: { by: string | null; actor: string; move: string }): string {
  if (event.by) return event.by;
  if (event.move === "make") return "The site's policy";
  return event.actor === "clock" ? "The calendar" : "The reading";
}

const BROWSERS: [pattern: RegExp, name: string][] = [
  [/\bEdg\/(\d+)/, "Edge"],
  [/\bFirefox\/(\d+)/, "Firefox"],
  [/\b(?:Headless)?Chrome\/(\d+)/, "Chrome"],
  [/\bVersion\/(\d+).* Safari\//, "Safari"],
];
const SYSTEMS: [pattern: RegExp, name: string][] = [
  [/Android/, "Android"],
  [/iPhone|iPad/, "iOS"],
  [/Windows/, "Windows"],
  [/Mac OS X/, "macOS"],
  [/Linux/, "Linux"],
];

/** A browser by what it calls itself: "Firefox 132 on Linux"; a program as it says. */
export function browserName(agent: string): string {
  const found = BROWSERS.find(([pattern]) => pattern.test(agent));
  if (!found) return agent || "A program";
  const system = SYSTEMS.find(([pattern]) => pattern.test(agent))?.[1];
  return `${found[1]} ${found[0].exec(agent)![1]}${system ? ` on ${system}` : ""}`;
}
