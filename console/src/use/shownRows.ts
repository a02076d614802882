import { CALLED_BY } from "@/terms";

/** A row of what is shown beside a question; which members it has hangs on the kind of evidence. */
export type ShownRow = Record<string, unknown>;

const WITHOUT = ["selector", "box", "hash", "cells", "level", "kind", "path"];

/** What a row is called. */
export function nameOf(row: ShownRow): string {
  for (const name of CALLED_BY) {
    const value = row[name];
    if (typeof value === "string" && value.trim()) return value;
  }
  return typeof row.kind === "string" ? row.kind : "no name";
}

/** What else a row says, in words. */
export function detailOf(row: ShownRow): string {
  const name = nameOf(row);
  const parts = Object.entries(row)
    .filter(([key, value]) => !WITHOUT.includes(key) && value !== name)
    .map(([key, value]) => [key, said(value)] as const)
    .filter(([, value]) => value)
    .map(([key, value]) => (value === "yes" ? key : `${key}: ${value}`));
  if (typeof row.level === "number") parts.unshift(`level ${row.level}`);
  return parts.join(" · ");
}

function said(value: unknown): string {
  if (value === true) return "yes";
  if (typeof value === "string") return value.trim();
  if (typeof value === "number") return String(value);
  if (Array.isArray(value)) return value.map(said).filter(Boolean).join(", ");
  if (value && typeof value === "object")
    return Object.values(value).map(said).filter(Boolean).join(" ");
  return "";
}
