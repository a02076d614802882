/** What filters offer, under the names that people see. */
export type Weight = "barrier" | "obstacle" | "friction";
export type Edition = "live" | "staging";
export type Outcome = "failed" | "cantTell";
export type LinkStateName = "works" | "only-in-staging" | "dead" | "no-part" | "unknown";
interface Choice { label: string; value: string }

export const WEIGHTS: Choice[] = [{ label: "Barrier", value: "barrier" }, { label: "Obstacle", value: "obstacle" }, { label: "Friction", value: "friction" }];
export const EDITIONS: Choice[] = [{ label: "Live", value: "live" }, { label: "Staging", value: "staging" }];
export const OUTCOMES: Choice[] = [{ label: "Is a fault", value: "failed" }, { label: "To look at", value: "cantTell" }];
export const LINK_STATES: (Choice & { value: LinkStateName })[] = [
  { label: "dead", value: "dead" }, { label: "part missing", value: "no-part" }, { label: "only in staging", value: "only-in-staging" },
  { label: "cannot be told", value: "unknown" }, { label: "works", value: "works" },
];
export const REGIONS: Choice[] = ["header", "menu", "content", "card", "search", "aside", "footer", "page"].map((value) => ({ label: value, value }));
