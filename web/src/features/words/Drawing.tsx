import type { Word } from "./words";

/** The small drawing of a word. */
export function Drawing({ word }: { word: Word }) {
  return (
    <svg viewBox="0 0 120 64" width="120" height="64" aria-hidden className="shrink-0 rounded-[3px] border border-line bg-paper">
      {word.drawing}
    </svg>
  );
}
