import { useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { Tower } from "../../api/generated/Tower";
import { useChanges } from "../../api/queries";
import { pointerDrag } from "../../ui/pointerDrag";

/** The bed from above: models or pieces, and where the tower stands. Models can be dragged while there is one piece of everything. */
export function BedMap({ job, tower, side = 132 }: { job: JobView; tower?: Tower | null; side?: number }) {
  const { edit } = useChanges(job.id);
  const [moved, setMoved] = useState<{ model: string; by: [number, number] } | null>(null);
  const [bx, by] = job.printer.bed_mm;
  const scale = side / Math.max(bx, by);
  const middle = [job.low_mm[0] + job.size_mm[0] / 2, job.low_mm[1] + job.size_mm[1] / 2] as const;
  const [w, h] = [bx * scale, by * scale];
  // y of the bed goes to the back, that of the drawing down.
  const box = (cx: number, cy: number, sx: number, sy: number) => ({
    x: w / 2 + (cx - sx / 2) * scale,
    y: h / 2 - (cy + sy / 2) * scale,
    width: Math.max(1, sx * scale),
    height: Math.max(1, sy * scale),
  });
  const isOne = job.copy_shifts.length === 1;
  const drag = (model: string) => (e: React.PointerEvent<SVGElement>) => {
    const from = [e.clientX, e.clientY] as const;
    const by = (at: PointerEvent): [number, number] => [(at.clientX - from[0]) / scale, (from[1] - at.clientY) / scale];
    pointerDrag(
      e,
      (at) => setMoved({ model, by: by(at) }),
      (dropped) => {
        if (!dropped) return setMoved(null);
        const [x, y] = by(dropped).map((mm) => Math.round(10 * mm) / 10) as [number, number];
        edit(
          { edit: "place", target: { of: "model", model }, placing: { how: "move", by_mm: [x, y, 0] } },
          { onSettled: () => setMoved(null) },
        );
      },
    );
  };
  return (
    <svg width={w} height={h} role="img" aria-label="The bed from above" className="shrink-0 touch-none border border-line bg-sheet">
      {isOne
        ? job.models.map((m) => {
            const [dx, dy] = moved?.model === m.name ? moved.by : [0, 0];
            const at = box(
              m.low_mm[0] + m.size_mm[0] / 2 - middle[0] + dx,
              m.low_mm[1] + m.size_mm[1] / 2 - middle[1] + dy,
              m.size_mm[0],
              m.size_mm[1],
            );
            return (
              <rect
                key={m.name}
                {...at}
                data-model={m.name}
                fill="#d8dadb"
                stroke={moved?.model === m.name ? "#6a2859" : "#76787c"}
                strokeWidth="0.7"
                className={job.models.length > 1 ? "cursor-grab" : undefined}
                onPointerDown={job.models.length > 1 ? drag(m.name) : undefined}
              >
                <title>{m.name}</title>
              </rect>
            );
          })
        : job.copy_shifts.map(([x, y]) => (
            <rect key={`${x} ${y}`} {...box(x, y, job.size_mm[0], job.size_mm[1])} fill="#d8dadb" stroke="#76787c" strokeWidth="0.7" />
          ))}
      {tower?.at && (
        <rect
          {...box(tower.at[0] - middle[0], tower.at[1] - middle[1], tower.side_mm, tower.side_mm)}
          fill="#6a2859"
          fillOpacity="0.25"
          stroke="#6a2859"
        />
      )}
    </svg>
  );
}
