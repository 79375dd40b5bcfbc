/** Numbers as makers type them: sums, fractions and, for lengths, units. */

const lengths: Record<string, number> = {
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

const token = /\s*(?:(\d+(?:[.,]\d*)?|[.,]\d+)|([-+*/()])|([^\d\s.,+*/()-]+))/y;

/** What was typed, piece by piece; nothing if a piece is none. */
function pieces(text: string): string[] | null {
  const plain = text.trim().replaceAll("\u2212", "-").replaceAll("×", "*").replaceAll("·", "*").replaceAll(":", "/");
  const found: string[] = [];
  token.lastIndex = 0;
  while (token.lastIndex < plain.length) {
    const match = token.exec(plain);
    if (!match) return null;
    found.push(match[0].trim());
  }
  return found;
}

/** The number that a sum comes to, with units by their factors; nothing for text that is none. */
function evaluate(text: string, units: Record<string, number>): number | null {
  const all = pieces(text);
  if (!all || all.length === 0) return null;
  let at = 0;
  const isNumber = (piece: string | undefined) => piece !== undefined && /^[\d.,]/.test(piece);
  const taken = () => Number((all[at++] ?? "").replace(",", "."));
  const factor = (): number => {
    const piece = all[at];
    if (piece === "-" || piece === "+") {
      at++;
      return piece === "-" ? -factor() : factor();
    }
    if (piece === "(") {
      at++;
      const inside = sum();
      if (all[at++] !== ")") return NaN;
      return inside;
    }
    if (!isNumber(piece)) return NaN;
    const whole = taken();
    // A mixed number, such as 3 1/2.
    if (isNumber(all[at]) && all[at + 1] === "/" && isNumber(all[at + 2])) {
      const over = taken();
      at++;
      return whole + over / taken();
    }
    return whole;
  };
  const term = (): number => {
    let value = factor();
    for (;;) {
      const sign = all[at];
      if (sign === "*" || sign === "/") {
        at++;
        const by = factor();
        value = sign === "*" ? value * by : value / by;
        continue;
      }
      const unit = sign === undefined ? undefined : units[sign.toLowerCase()];
      if (unit === undefined) return value;
      // The unit is that of the whole term: 1/8in is an eighth of an inch.
      at++;
      value *= unit;
    }
  };
  const sum = (): number => {
    let value = term();
    while (all[at] === "+" || all[at] === "-") value += all[at++] === "+" ? term() : -term();
    return value;
  };
  const value = sum();
  return at === all.length && Number.isFinite(value) ? value : null;
}

/** Millimetres of a typed length, such as `38`, `1.5in`, `3 1/2"`, `2*0.2+0.04` or `2,5 cm`; nothing for text that is none. */
export const parseLength = (text: string) => evaluate(text, lengths);

/** A typed number, such as `0,5` or `3*12+4`; its own unit may follow. */
export const parseNumber = (text: string, unit = "") => evaluate(text, unit === "" ? {} : { [unit.toLowerCase()]: 1 });
