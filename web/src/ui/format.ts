/** Figures as the interface writes them: a thin space between thousands, a true minus sign. */

const minus = "\u2212";

export function count(n: number): string {
  return Math.round(n)
    .toString()
    .replace(/\B(?=(\d{3})+$)/g, "\u2009");
}

export function fixed(n: number, digits: number): string {
  const text = Math.abs(n).toFixed(digits);
  const [whole = "0", part] = text.split(".");
  const grouped = whole.replace(/\B(?=(\d{3})+$)/g, "\u2009");
  const negative = n < 0 && Number(text) !== 0;
  return (negative ? minus : "") + grouped + (part ? `.${part}` : "");
}

/** A number with its word, in the plural unless it is one. */
export const counted = (n: number, word: string) => `${count(n)} ${word}${n === 1 ? "" : "s"}`;

/** A volume in mm³ below a cubic centimetre, in cm³ above. */
export const volume = (mm3: number) => (mm3 < 1000 ? `${fixed(mm3, mm3 < 10 ? 2 : 0)} mm³` : `${fixed(mm3 / 1000, 2)} cm³`);

export const grams = (g: number) => `${fixed(g, 1)} g`;
export const percent = (share: number, digits = 0) => `${fixed(100 * share, digits)} %`;
export const mm = (n: number, digits = 1) => `${fixed(n, digits)} mm`;

/** The length of a file. */
export const fileSize = (bytes: number) => (bytes < 1e6 ? `${count(bytes / 1000)} kB` : `${fixed(bytes / 1e6, 1)} MB`);

const days = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", year: "numeric" });

/** A day, from seconds since 1970. */
export const day = (seconds: number) => days.format(new Date(1000 * seconds));

export function duration(seconds: number): string {
  const minutes = Math.max(1, Math.round(seconds / 60));
  const hours = Math.floor(minutes / 60);
  return hours > 0 ? `${hours} h ${minutes % 60} min` : `${minutes} min`;
}

/** A change with its sign, or nothing when it rounds to none. */
export function change(n: number | undefined, digits: number): string | null {
  if (n === undefined || Number(Math.abs(n).toFixed(digits)) === 0) return null;
  return (n > 0 ? "+" : "") + fixed(n, digits);
}

export function durationChange(seconds: number | undefined): string | null {
  if (seconds === undefined || Math.abs(seconds) < 30) return null;
  return (seconds > 0 ? "+" : minus) + duration(Math.abs(seconds));
}

/** Where a refusal says that something is wrong, if it is words; null for the name of a field, which is for writers of recipes. */
export function placeInWords(where: string | null | undefined): string | null {
  return where && !/^[a-z]+([_.-][a-z0-9_.-]*)?$/.test(where) ? where : null;
}
