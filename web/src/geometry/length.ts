/** Lengths as makers type them: a number, with a unit or without. */

const units: Record<string, number> = {
  mm: 1,
  cm: 10,
  m: 1000,
  in: 25.4,
  inch: 25.4,
  '"': 25.4,
  "″": 25.4,
  ft: 304.8,
  "'": 304.8,
  "′": 304.8,
  µm: 0.001,
  um: 0.001,
};

/** Millimetres of a typed length, such as `38`, `1.5in`, `3 1/2"` or `2,5 cm`; nothing for text that is none. */
export function parseLength(text: string): number | null {
  const match = /^([+-]?\d+(?:[.,]\d+)?|[+-]?[.,]\d+)?(?:\s*(\d+)\s*\/\s*(\d+))?\s*([^\d\s]*)$/.exec(text.trim().replace("\u2212", "-"));
  if (!match) return null;
  const [, whole, over, under, unit = ""] = match;
  if (whole === undefined && over === undefined) return null;
  const base = whole === undefined ? 0 : Number(whole.replace(",", "."));
  const part = over !== undefined && under !== undefined ? Number(over) / Number(under) : 0;
  const factor = unit === "" ? 1 : units[unit.toLowerCase()];
  const value = factor === undefined ? NaN : (base + (base < 0 ? -part : part)) * factor;
  return Number.isFinite(value) ? value : null;
}
