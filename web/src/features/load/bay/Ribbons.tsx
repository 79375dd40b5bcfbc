import { columns, ribbon } from "./layout";
import type { End } from "./ends";

/** Two ends that are joined, from left to right. */
export interface Joined {
  from: End;
  to: End;
  colour: string;
  look: "plain" | "dashed" | "dotted";
}

const dashes = { plain: undefined, dashed: "14 7", dotted: "1 12" };

const columnOf = (end: End) => (end.is === "region" ? columns.regions : end.is === "spool" ? columns.spools : columns.slots);

/** The ribbons behind the cards: solid when confirmed, dashed when proposed, dotted when the printer says otherwise. */
export function Ribbons({
  joined,
  y,
  half,
  width,
  height,
  held,
  loose,
}: {
  joined: Joined[];
  /** Top of an end's card, px. */
  y: (end: End) => number;
  /** Half the height of a card, px. */
  half: number;
  width: number;
  height: number;
  held: End | null;
  loose: [number, number] | null;
}) {
  // Under the edges of the cards, so that round ends do not show.
  const right = (end: End) => [columnOf(end).left + columnOf(end).width - 2, y(end) + half] as const;
  const left = (end: End) => [columnOf(end).left + 2, y(end) + half] as const;
  return (
    <svg className="pointer-events-none absolute inset-0 overflow-visible" width={width} height={height} aria-hidden>
      {joined.map((j) => {
        const d = ribbon(right(j.from), left(j.to));
        return (
          <g
            key={JSON.stringify([j.from, j.to])}
            fill="none"
            strokeLinecap={j.look === "dotted" ? "round" : "butt"}
            strokeDasharray={dashes[j.look]}
          >
            <path d={d} stroke="#1d1d1f" strokeOpacity={0.3} strokeWidth={8} />
            <path d={d} stroke={j.colour} strokeWidth={6.5} />
          </g>
        );
      })}
      {held && loose && (
        <path
          d={ribbon(loose[0] < left(held)[0] ? left(held) : right(held), loose)}
          fill="none"
          stroke="var(--color-plum)"
          strokeWidth={4}
          strokeDasharray="8 5"
        />
      )}
    </svg>
  );
}
