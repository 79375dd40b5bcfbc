import type { WayFigures } from "../../api/generated/WayFigures";
import { counted, duration, fixed, grams } from "../../ui/format";

const wide = 176;

/** Beside a line that is dragged over the score: where it is, and what the job would come to. */
export function TriedTip({ x, y, figures, fromMm }: { x: number; y: number; figures: WayFigures | null; fromMm: number }) {
  return (
    <foreignObject x={x > wide + 12 ? x - wide - 8 : x + 8} y={y} width={wide} height={44} className="pointer-events-none">
      <p role="status" className="figure rounded-[4px] border border-line bg-sheet px-2 py-1 text-[11.5px] leading-[1.3] shadow-md">
        from {fixed(fromMm, 2)} mm
        <br />
        {figures ? (
          <b>
            {counted(figures.swaps, "swap")} · {grams(figures.waste_g)} · {duration(figures.time_s)}
          </b>
        ) : (
          <span className="text-soft">…</span>
        )}
      </p>
    </foreignObject>
  );
}
