/** What people may be in a site, and for which of its pages. */
export type Role = "manager" | "editor" | "developer" | "reader";
export const roles: Role[] = ["manager", "editor", "developer", "reader"];

/** The patterns of paths in what somebody wrote. */
export function listed(areas: string): string[] {
  return areas.split(/\s+/).filter(Boolean);
}

export function whereabouts(areas: string[] | null | undefined, isEverywhere: boolean): string {
  if (areas?.length) return `${areas.join(" ")} alone`;
  return isEverywhere ? "every site" : "this site";
}
