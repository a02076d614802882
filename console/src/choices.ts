/** What filters offer, under the names that people see. */
export type Weight = "barrier" | "obstacle" | "friction";
export type Edition = "live" | "staging";
export type Outcome = "failed" | "cantTell";
interface Choice { label: string; value: string }

export const WEIGHTS: Choice[] = [{ label: "Barrier", value: "barrier" }, { label: "Obstacle", value: "obstacle" }, { label: "Friction", value: "friction" }];
export const EDITIONS: Choice[] = [{ label: "Live", value: "live" }, { label: "Staging", value: "staging" }];
export const OUTCOMES: Choice[] = [{ label: "Is a fault", value: "failed" }, { label: "To look at", value: "cantTell" }];
export const REGIONS: Choice[] = ["header", "menu", "content", "card", "search", "aside", "footer", "page"].map((value) => ({ label: value, value }));
