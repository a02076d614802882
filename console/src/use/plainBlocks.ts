/** A block of a page's text: a heading with its level, a picture with its place, or words. */
export interface PlainBlock {
  text: string;
  level?: number;
  box?: number[];
}
type Row = Record<string, unknown>;

/** A page's text in its order, with headings and the pictures that are alone in their block. */
export function plainBlocks(order: Row[], outline: Row[], pictures: Row[]): PlainBlock[] {
  const levels = new Map(
    outline.filter((one) => one.kind === "heading").map((one) => [one.selector, one.level]),
  );
  const left = pictures.filter((one) => Array.isArray(one.box) && !one.decorative);
  const blocks: PlainBlock[] = [];
  for (const row of order) {
    const text = String(row.text ?? "");
    const level = levels.get(row.selector);
    if (typeof level === "number") {
      blocks.push({ text, level });
      continue;
    }
    const at = left.findIndex(
      (one) =>
        one.selector === row.selector || String(one.selector).startsWith(`${row.selector} >`),
    );
    if (at >= 0) {
      const [picture] = left.splice(at, 1);
      blocks.push({ text: String(picture!.name ?? ""), box: picture!.box as number[] });
      if (text === picture!.name) continue;
    }
    blocks.push({ text });
  }
  return blocks;
}
