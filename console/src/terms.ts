/** The words of the work, made by scripts/make_terms.py: do not edit. */
export const TERMS = {
  "site": "A website that is looked after here, known by a short name.",
  "environment": "Live is what visitors see; staging is the site as it is being made ready.",
  "page": "What stands at one path of a site in one environment. An address that redirects is none.",
  "section": "Pages whose paths begin alike.",
  "area of responsibility": "A part of the site, by the beginning of its paths, and who answers for it.",
  "sweep": "One reading of many pages of a site, in a browser.",
  "reading": "One page, read once: its picture, what was found, and what could not be tested.",
  "lens": "How a page is read: rendered in a browser, or by its source (markup): HTML and style sheets.",
  "page view": "A page as others meet it: its outline, as heard, its reading order, its links or pictures alone.",
  "check": "One thing that is looked for on every page, with the criterion of the standard that asks for it.",
  "outcome": "What a check says of a place: passed, failed, cannot tell, not applicable, or untested.",
  "finding": "One thing that a check found in one place of one page, with the facts that were measured there.",
  "standing": "Whether a finding counts: it counts, is doubtful, was judged fine, is waived, is left out by the policy, or was mended since (a later reading no longer shows it).",
  "weight": "What a finding does to a visitor: a barrier keeps them out, an obstacle makes it hard, a friction slows them down.",
  "barrier": "Visitors cannot get the content or use the control at all: a picture without text, a button without a name.",
  "obstacle": "Visitors get there, but with difficulty or by guessing: text that is too pale, a link that only says “here”.",
  "friction": "Visitors are slowed or annoyed, no more.",
  "cause": "What many findings have in common: the same thing to mend once. One fault of a template on 312 pages is one cause.",
  "landmark": "A part of the page that assistive technology can jump to: main, navigation, search, banner.",
  "scope": "The part of a page that a policy has looked at, as CSS; what lies outside is another team's.",
  "zone": "Where on the page a place lies: header, navigation, content, footer, aside. What repeats there is mostly printed by a template.",
  "template": "Nearly all places of the same build have this fault, so the template prints it; mended there, it is gone everywhere.",
  "decorative": "A picture that says nothing and is passed over by screen readers. Right for a swash or a mood; wrong for whatever somebody would miss.",
  "fix": "The promise to mend one cause or one place, with somebody who answers for it. Only a reading closes it.",
  "owner": "The person or group who answers for mending.",
  "member": "Who has a role in a site: manager, editor, developer or reader. For everybody else the site is not there.",
  "operator": "Who runs the service: a manager of every site.",
  "second factor": "What somebody gives beside their password: a code of an app, or a passkey, which needs no password at all.",
  "recovery code": "Lets somebody in once, when their second factor is not at hand.",
  "log": "What was done: who changed what, from where, and what it was before. Entries are only added.",
  "mend": "A concrete change that does away with a finding, proposed by the check or made by a person.",
  "reopened": "A fix whose fault a reading found again: still there after it was handed in, or come back after it was proven.",
  "correction": "A concrete change of a page’s source that a person made for a finding: drafted, written, then proven by a reading; or in conflict, or taken back.",
  "source": "The text that a page is made from: a file, or an item of a content system.",
  "item": "What a content system makes a page of: a post, a page, a product. It has an author, a state, and a place where it is edited.",
  "block": "A piece of an item’s content as its editor has it: a paragraph, a picture, a table.",
  "connection": "Where the sources of a site are, and how the service reads and writes them.",
  "waiver": "A finding or cause that is accepted until a day, with a reason and the name of who granted it. It counts again when the day is over.",
  "judgement": "A person’s answer to something that no program can decide: it is a fault, or it is fine. It lapses when the place changes.",
  "ready": "A page is ready to publish when it was read and nothing on it holds: by default no barrier and no obstacle that is not waived.",
  "policy": "The site’s rules: which standard, which checks, what is left out, and what holds a page.",
  "gate": "Asked before a page is published: it reads the page as it would be, compares it with the live one, and answers clear, clear with waivers, or held.",
  "review": "Questions that only a person can answer, of a page or of the site, each with what there is to see. An answer lapses when that changes.",
  "account": "How a site stands, for its head and for auditors: figures over time, what is open and with whom, what was tested by machine and by eye, and what was not.",
  "clearance": "The answer of the gate for one content, known by its hash. It is good for a while, for that content alone, and used once.",
  "release": "Several contents that are published together, and the gate's one answer for all of them.",
  "seal": "What proves to the content system that a clearance is the gate's own.",
  "journey": "Steps through pages as a visitor takes them, such as filling in a form; its states are read like pages.",
  "link check": "The run in which links are followed to see whether they still lead somewhere.",
  "desk": "What waits for one person: fixes, mends to be looked at, answers.",
  "notification": "What one was told within the service: a fix handed out, a proof, a held page.",
  "e-mail": "A notification that is also sent by mail, at once or in the daily digest.",
} as const;
export type Term = keyof typeof TERMS;

export const STATE_LABELS: Record<string, string> = {
  open: "to mend",
  in_hand: "in hand",
  reopened: "found again",
  handed_in: "handed in",
  proven: "proven",
  waived: "waived",
  page_gone: "page gone",
};
export const LABELS_AFTER: Record<string, string> = {
  "reopened after handed_in": "still there",
  "reopened after proven": "came back",
};
export const CORRECTION_LABELS: Record<string, string> = {
  waiting: "being read",
  refused: "refused",
  drafted: "drafted",
  written: "written",
  proven: "proven",
  conflict: "conflict",
  taken_back: "taken back",
};
export const ITEM_STATUS_LABELS: Record<string, string> = {
  draft: "draft",
  pending: "in review",
  future: "scheduled",
  publish: "public",
};
export const ANSWER_LABELS: Record<string, string> = {
  fine: "fine",
  fault: "a fault",
  "does-not-apply": "does not apply",
};
export const NOTIFICATION_LABELS: Record<string, string> = {
  mentioned: "You are mentioned",
  reopened: "Found again",
  handed_out: "New for you",
  waiver_ended: "A waiver is over",
  proven: "Proven mended",
  handed_in: "Handed in",
};
export const REPORT_FORM_LABELS: Record<string, string> = {
  html: "HTML to read and print",
  csv: "CSV for a spreadsheet",
  sarif: "SARIF for development tools",
  junit: "JUnit for pipelines",
  earl: "EARL for evaluation reports",
  json: "JSON",
};

/** Other colour vision, as matrices for linear RGB (Machado et al. 2009). */
export const COLOUR_VISION: Record<string, string> = {
  protan: "0.152286 1.052583 -0.204868 0 0 0.114503 0.786281 0.099216 0 0 -0.003882 -0.048116 1.051998 0 0 0 0 0 1 0",
  deutan: "0.367322 0.860646 -0.227968 0 0 0.280085 0.672501 0.047413 0 0 -0.01182 0.04294 0.968881 0 0 0 0 0 1 0",
  tritan: "1.255528 -0.076749 -0.178779 0 0 -0.078411 0.930809 0.147602 0 0 0.004733 0.691367 0.3039 0 0 0 0 0 1 0",
};

/** The members that a row of evidence may be called by, the first that it has. */
export const CALLED_BY: readonly string[] = ["name", "text", "sentence", "words", "file", "abbreviation", "state", "address"];

/** The kinds of mends whose value a person writes. */
export const WRITTEN_KINDS: readonly string[] = ["group-choices", "insert", "link-past-menus", "name-as-picture", "replace-text", "replace-word", "rewrite", "say-with-text", "set-attribute"];

/** The states of fixes that somebody has still to do with. */
export const LIVE_STATES = ["open", "in_hand", "reopened", "handed_in"] as const;
