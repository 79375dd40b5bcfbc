import { useEffect, useRef, useState, type FocusEvent, type KeyboardEvent } from "react";

/** The least and the greatest that a field takes. */
export interface Range {
  low: number;
  high: number;
}

/** A number that is being typed: Enter or leaving takes it, Escape puts it back, arrows and the wheel step it. What cannot be
 *  read stays as it was typed, and is marked. */
export function useNumberDraft({
  shown,
  digits,
  parse,
  onCommit,
  help,
  range,
}: {
  /** The value as it is shown. */
  shown: string;
  digits: number;
  parse: (text: string) => number | null;
  onCommit: (value: number) => void;
  /** What may be typed. */
  help: string;
  range?: Range | undefined;
}) {
  const [draft, setDraft] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const typed = draft === null ? null : parse(draft);
  const isEmpty = draft !== null && draft.trim() === "";
  const isOut = typed !== null && range !== undefined && (typed < range.low || typed > range.high);
  const isWrong = draft !== null && !isEmpty && (typed === null || isOut);
  const span = range && `from ${+range.low.toFixed(digits)} to ${+range.high.toFixed(digits)}`;
  const commit = () => {
    if (isWrong) return;
    setDraft(null);
    if (typed !== null && draft !== shown && typed !== Number(shown)) onCommit(typed);
  };
  const step = (by: number) => {
    const now = typed ?? Number(shown);
    const next = now + by * 10 ** -digits;
    setDraft((range ? Math.min(range.high, Math.max(range.low, next)) : next).toFixed(digits));
  };
  const latest = useRef(step);
  useEffect(() => {
    latest.current = step;
  });
  // React listens to wheels without being able to hold the page still.
  useEffect(() => {
    const field = input.current;
    if (!field) return;
    const turn = (e: WheelEvent) => {
      if (document.activeElement !== field) return;
      e.preventDefault();
      latest.current((e.deltaY < 0 ? 1 : -1) * (e.shiftKey ? 10 : 1));
    };
    field.addEventListener("wheel", turn, { passive: false });
    return () => field.removeEventListener("wheel", turn);
  }, []);
  return {
    isWrong,
    props: {
      ref: input,
      value: draft ?? shown,
      "aria-invalid": isWrong || undefined,
      title: isWrong && isOut ? `It can be ${span}` : span ? `${help}, ${span}` : help,
      onChange: (e: { target: HTMLInputElement }) => setDraft(e.target.value),
      onFocus: (e: FocusEvent<HTMLInputElement>) => e.target.select(),
      onBlur: commit,
      onKeyDown: (e: KeyboardEvent<HTMLInputElement>) => {
        if (e.key === "Enter") {
          if (isWrong) return;
          e.currentTarget.blur();
        } else if (e.key === "Escape") setDraft(null);
        else if (e.key === "ArrowUp" || e.key === "ArrowDown") {
          e.preventDefault();
          e.stopPropagation();
          step((e.key === "ArrowUp" ? 1 : -1) * (e.shiftKey ? 10 : 1));
        }
      },
    },
  };
}
