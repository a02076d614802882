import type { components, paths } from "@/api/schema";

type Asked = NonNullable<paths["/api/v1/sites/{slug}/findings"]["get"]["parameters"]["query"]>;
export type Weight = NonNullable<Asked["weight"]>;
export type Outcome = NonNullable<Asked["outcome"]>;
export type Environment = NonNullable<Asked["environment"]>;
export type Zone = NonNullable<Asked["zone"]>;
export type LinkStateName = NonNullable<components["schemas"]["LinkText"]["state"]>;
interface Choice<Value extends string = string> {
  label: string;
  value: Value;
}

/** What filters offer, under the names that people see: one choice for each value that the API knows,
 *  in this order. A value that is forgotten here does not compile. */
function choices<Value extends string>(labels: Record<Value, string>): Choice<Value>[] {
  return (Object.entries(labels) as [Value, string][]).map(([value, label]) => ({ label, value }));
}

export const WEIGHTS = choices<Weight>({
  barrier: "Barrier",
  obstacle: "Obstacle",
  friction: "Friction",
});
export const ENVIRONMENTS = choices<Environment>({ live: "Live", staging: "Staging" });
export const OUTCOMES = choices<Outcome>({ failed: "Is a fault", cantTell: "To look at" });
export const LINK_STATES = choices<LinkStateName>({
  dead: "dead",
  "no-part": "part missing",
  "only-in-staging": "only in staging",
  unknown: "cannot be told",
  works: "works",
});
export const ZONES = choices<Zone>({
  header: "header",
  menu: "menu",
  content: "content",
  card: "card",
  search: "search",
  aside: "aside",
  footer: "footer",
  page: "page",
});
