/** The words of the work, each in one or two sentences; shown wherever a term has its question mark. */
export const TERMS = {
  barrier: "Visitors cannot get the content or use the control at all: a picture without text, a button without a name.",
  obstacle: "Visitors get there, but with difficulty or by guessing: text that is too pale, a link that only says “here”.",
  friction: "Visitors are slowed or annoyed, no more.",
  weight: "What a finding does to a visitor: a barrier keeps them out, an obstacle makes it hard, a friction slows them down.",
  ready: "A page is ready to publish when it was read and nothing on it holds: by default no barrier and no obstacle that is not waived.",
  cause: "What many findings have in common: the same thing to mend once. One fault of a template on 312 pages is one cause.",
  finding: "One thing that a check found in one place of one page, with the facts that were measured there.",
  fix: "The promise to mend one cause or one place, with somebody who answers for it. Only a reading closes it.",
  waiver: "A finding or cause that is accepted until a day, with a reason and the name of who granted it. It counts again when the day is over.",
  judgement: "A person’s answer to something that no program can decide: it is a fault, or it is fine. It lapses when the place changes.",
  sweep: "One reading of many pages of a site, in a browser.",
  reading: "One page, read once: its picture, what was found, and what could not be tested.",
  edition: "Live is what visitors see; staging is the site as it is being made ready.",
  region: "Where on the page a place lies: header, navigation, content, footer, aside. What repeats there is mostly printed by a template.",
  template: "Nearly all places of the same build have this fault, so the template prints it; mended there, it is gone everywhere.",
  part: "A piece of the site, by the beginning of its paths, and who answers for it.",
  owner: "The person or group who answers for mending.",
  section: "Pages whose paths begin alike.",
  policy: "The site’s rules: which standard, which checks, what is left out, and what holds a page.",
  ornament: "A picture that says nothing and is passed over by screen readers. Right for a swash or a mood; wrong for whatever somebody would miss.",
} as const;
export type Term = keyof typeof TERMS;
