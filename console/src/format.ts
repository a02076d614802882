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
