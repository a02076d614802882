import type { Finding } from "@/api/client";
import { WRITTEN_KINDS } from "@/terms";

/** A proposed mend as it is kept with a fix: the fields of `mends`, and what was chosen beside it. */
export interface Proposal {
  kind: string;
  says: string;
  attribute?: string;
  value?: string;
  to?: string;
  property?: string;
  where?: string;
  target?: string;
  sure?: string;
  markup?: string;
  /** The describer's answer that the text was taken from. */
  description?: number;
}

/** Whether a mend can be carried out in a source, and not only be told. */
export const canBeCarriedOut = (mend: Proposal) => mend.kind !== "advice";

/** Whether a mend waits for what a person writes. */
export const asks = (mend: Proposal) =>
  WRITTEN_KINDS.includes(mend.kind) && mend.value === undefined;

/** A proposal without what only the console knows of it. */
export function mendOf(proposal: Proposal): Proposal {
  const mend = { ...proposal };
  delete mend.markup;
  delete mend.description;
  return mend;
}

const escaped = (text: string) =>
  text.replaceAll("&", "&amp;").replaceAll('"', "&quot;").replaceAll("<", "&lt;");

/** The start tag with an attribute set to a value, or taken away. */
function withAttribute(excerpt: string, name: string, value: string | null): string {
  const end = excerpt.search(/\/?>/);
  if (!excerpt.startsWith("<") || end < 0) return excerpt;
  const tag = excerpt
    .slice(0, end)
    .replace(new RegExp(`\\s${name}(\\s*=\\s*("[^"]*"|'[^']*'|[^\\s>]+))?(?=\\s|$)`, "i"), "")
    .trimEnd();
  return `${tag}${value === null ? "" : ` ${name}="${escaped(value)}"`}${excerpt.slice(end)}`;
}

/** What to write in the page's source: the element as it would be, or the rule of style. */
export function markupOf(finding: Finding, proposal: Proposal): string {
  if (proposal.markup) return proposal.markup;
  if (proposal.kind === "set-style")
    return `${finding.selector} { ${proposal.property}: ${proposal.value}; }`;
  if (proposal.kind === "set-attribute" && proposal.attribute)
    return withAttribute(finding.excerpt, proposal.attribute, proposal.value ?? "");
  if (proposal.kind === "remove-attribute" && proposal.attribute)
    return withAttribute(finding.excerpt, proposal.attribute, null);
  if (proposal.kind === "rename-element" && proposal.to)
    return withAttribute(withAttribute(finding.excerpt, "role", null), "aria-level", null)
      .replace(/^<[a-z0-9-]+/i, `<${proposal.to}`)
      .replace(/<\/[a-z0-9-]+>$/i, `</${proposal.to}>`);
  if (proposal.kind === "replace-text") {
    const [open] = finding.excerpt.match(/^<[^>]*>/) ?? [""];
    const [close] = finding.excerpt.match(/<\/[^>]*>$/) ?? [""];
    return `${open}${escaped(proposal.value ?? "")}${close}`;
  }
  return proposal.says;
}
