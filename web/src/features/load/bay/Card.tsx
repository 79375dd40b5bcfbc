import type { ReactNode } from "react";
import type { Level } from "../../../api/generated/Level";
import { sameEnd, type End } from "./ends";
import type { Joining } from "./useJoining";

const edges: Record<Level, string> = {
  wrong: "border-wrong shadow-[inset_4px_0_0_var(--color-wrong)]",
  look: "border-look shadow-[inset_4px_0_0_var(--color-look)]",
  fine: "border-line",
};

/** Something in the bay that can be joined: taken up by click, Enter or drag. */
export function Card({
  end,
  name,
  level = "fine",
  column,
  top,
  height,
  joining,
  onKey,
  children,
}: {
  end: End;
  /** What it is called, and what is the matter with it. */
  name: string;
  level?: Level;
  column: { left: number; width: number };
  top: number;
  height: number;
  joining: Joining;
  /** Keys of its own; true if the key was meant for it. */
  onKey?: (key: string) => boolean;
  children: ReactNode;
}) {
  const isHeld = sameEnd(joining.held, end);
  return (
    <div
      // Some hold buttons and fields of their own, so that the card itself is none.
      role="group"
      aria-roledescription="card to be joined by Enter"
      tabIndex={0}
      aria-label={isHeld ? `${name}, in hand` : name}
      data-end={JSON.stringify(end)}
      className={`absolute flex touch-none select-none items-center gap-3 rounded-[4px] border bg-sheet px-3 transition-[top] ${isHeld ? "border-plum bg-plum-tint" : edges[level]}`}
      style={{ left: column.left, width: column.width, top, height }}
      onPointerDown={(e) => joining.drag(e, end)}
      onClick={(e) => {
        if (!(e.target as Element).closest("button, input")) joining.take(end);
      }}
      onKeyDown={(e) => {
        if (e.target !== e.currentTarget || e.ctrlKey || e.metaKey || e.altKey) return;
        if (e.key === "Enter" || e.key === " ") joining.take(end);
        else if (e.key === "Escape") joining.letGo();
        else if (e.key.startsWith("Arrow")) step(e.currentTarget, e.key);
        else if (!onKey?.(e.key)) return;
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      {children}
    </div>
  );
}

/** Moves the focus to the next card up, down, or in the column beside. */
function step(card: HTMLElement, key: string) {
  const here = card.getBoundingClientRect();
  const middle = (r: DOMRect) => [r.left + r.width / 2, r.top + r.height / 2] as const;
  const [x, y] = middle(here);
  let best: HTMLElement | null = null;
  let least = Infinity;
  for (const other of card.parentElement?.querySelectorAll<HTMLElement>("[data-end]") ?? []) {
    const [ox, oy] = middle(other.getBoundingClientRect());
    const [dx, dy] = [ox - x, oy - y];
    const isSideways = key === "ArrowLeft" || key === "ArrowRight";
    const isThere =
      key === "ArrowLeft" ? dx < -20 : key === "ArrowRight" ? dx > 20 : Math.abs(dx) < 20 && (key === "ArrowUp" ? dy < -5 : dy > 5);
    const away = isSideways ? Math.abs(dx) * 4 + Math.abs(dy) : Math.abs(dy);
    if (isThere && away < least) [best, least] = [other, away];
  }
  best?.focus();
}
