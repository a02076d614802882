/** Relative luminance and contrast ratio as WCAG 2.2 defines them, for colours that move while they are chosen; the service says the last word. */

function channels(colour: string): [number, number, number] {
  const digits = colour.replace("#", "");
  const full = digits.length === 3 ? [...digits].map((one) => one + one).join("") : digits;
  return [0, 2, 4].map((at) => parseInt(full.slice(at, at + 2), 16) / 255) as [
    number,
    number,
    number,
  ];
}

function luminance(colour: string): number {
  const [red, green, blue] = channels(colour).map((one) =>
    one <= 0.04045 ? one / 12.92 : ((one + 0.055) / 1.055) ** 2.4,
  ) as [number, number, number];
  return 0.2126 * red + 0.7152 * green + 0.0722 * blue;
}

/** The contrast ratio of two `#rrggbb`, 1 to 21. */
export function contrast(one: string, other: string): number {
  const [dark, light] = [luminance(one), luminance(other)].sort((a, b) => a - b) as [
    number,
    number,
  ];
  return (light + 0.05) / (dark + 0.05);
}

/** A ratio for reading: cut to two decimals, never rounded up to what it is not. */
export function shownRatio(ratio: number): string {
  return (Math.floor(ratio * 100 + 1e-9) / 100).toFixed(2);
}

export function isColour(text: string): boolean {
  return /^#([0-9a-f]{3}|[0-9a-f]{6})$/i.test(text.trim());
}
