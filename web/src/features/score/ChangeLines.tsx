import type { ScaleLinear } from "d3-scale";
import { useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Change } from "../../api/generated/Change";
import type { Edit } from "../../api/generated/Edit";
import type { JobView } from "../../api/generated/JobView";
import type { PlanLayer } from "../../api/generated/PlanLayer";
import { useChanges } from "../../api/queries";
import { fixed } from "../../ui/format";
import { TriedTip } from "./TriedTip";
import { useTried } from "./useTried";

/** The changes at a layer as lines on the score: dragged or moved by keys to another layer, taken out by Delete. */
export function ChangeLines({
  job,
  layers,
  x,
  top,
  bottom,
  layerAt,
  onHold,
}: {
  job: JobView;
  layers: PlanLayer[];
  x: ScaleLinear<number, number>;
  top: number;
  bottom: number;
  layerAt: (clientX: number) => number;
  /** A line is taken hold of. */
  onHold: () => void;
}) {
  const { edit } = useChanges(job.id);
  const [drag, setDrag] = useState<{ number: number; to: number } | null>(null);
  const bottomOf = (layer: number) => layers[Math.min(Math.max(layer, 1), layers.length - 1)]?.z0_mm ?? 0;
  const layerOf = (c: Change) => layers.findIndex((l) => l.z0_mm >= c.from_mm - 1e-6);
  const moved = (c: Change, to: number): Edit | null =>
    Math.abs(to - c.from_mm) > 1e-6 && c.edit.edit === "give-change"
      ? { edit: "change-edit", number: c.number, to: { ...c.edit, from_mm: to } satisfies Edit }
      : null;
  const dragged = drag && job.changes.find((c) => c.number === drag.number);
  const tried = useTried(job, dragged && drag ? moved(dragged, drag.to) : null);
  const put = (c: Change, to: number) => {
    const change = moved(c, to);
    if (change) edit(change);
  };
  const keys = (c: Change) => (e: KeyboardEvent) => {
    const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[e.key];
    if (by !== undefined) put(c, bottomOf(layerOf(c) + by));
    else if (e.key === "Delete" || e.key === "Backspace") edit({ edit: "leave-out", number: c.number });
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <>
      {job.changes.map((c) => {
        const region = job.regions.find((r) => r.key === c.region);
        const at = drag?.number === c.number ? drag.to : c.from_mm;
        const px = x(at);
        const words = `From ${fixed(at, 2)} mm on ${region?.name ?? c.region}${c.is_of_all ? "" : ", of a part"}`;
        const stop = (e: PointerEvent) => e.stopPropagation();
        return (
          <g
            key={c.number}
            role="slider"
            tabIndex={0}
            aria-label={`Change: from here on ${region?.name ?? c.region}`}
            aria-valuemin={2}
            aria-valuemax={layers.length}
            aria-valuenow={layerOf(c) + 1}
            aria-valuetext={words}
            className="group/change cursor-col-resize outline-none"
            onKeyDown={keys(c)}
            onPointerDown={(e) => {
              stop(e);
              e.currentTarget.setPointerCapture(e.pointerId);
              e.currentTarget.focus();
              onHold();
              setDrag({ number: c.number, to: c.from_mm });
            }}
            onPointerMove={(e) => {
              if (drag?.number !== c.number) return;
              stop(e);
              setDrag({ number: c.number, to: bottomOf(layerAt(e.clientX)) });
            }}
            onPointerUp={(e) => {
              stop(e);
              if (drag) put(c, drag.to);
              setDrag(null);
            }}
          >
            <title>{`${words}. Drag it to another layer; Delete takes it out.`}</title>
            <rect x={px - 5} width={10} y={top - 8} height={bottom - top + 8} fill="transparent" />
            <line
              x1={px}
              x2={px}
              y1={top - 6}
              y2={bottom}
              stroke="#1d1d1f"
              strokeWidth="1.2"
              strokeDasharray="5 3"
              className="group-hover/change:[stroke-width:2.2] group-focus-visible/change:[stroke-width:2.6]"
            />
            {drag?.number === c.number && <TriedTip x={px} y={top + 14} figures={tried} fromMm={at} />}
            <rect
              x={px - 4.5}
              y={bottom - 10}
              width={9}
              height={9}
              fill={region?.colour ?? "#fff"}
              stroke="#1d1d1f"
              className="group-focus-visible/change:[stroke-width:2.5]"
            />
          </g>
        );
      })}
    </>
  );
}
