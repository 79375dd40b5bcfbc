import type { ReactNode } from "react";

/** One line of a card: what, and how much. */
export function Fact({ name, children, isFigure }: { name: string; children: ReactNode; isFigure?: boolean }) {
  return (
    <div className="flex items-baseline justify-between gap-4 border-b border-line py-1">
      <dt className="shrink-0 text-soft">{name}</dt>
      <dd className={`min-w-0 text-right ${isFigure ? "figure" : ""}`}>{children}</dd>
    </div>
  );
}

/** The size, the figure that everything else hangs on. */
export function SizeLine({ size, digits = 1 }: { size: readonly number[]; digits?: number }) {
  return <>{size.map((c) => c.toFixed(digits)).join(" × ")}</>;
}
