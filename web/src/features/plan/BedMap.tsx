import type { JobView } from "../../api/generated/JobView";
import type { Tower } from "../../api/generated/Tower";

const side = 132;

/** The bed from above: the pieces, and where the tower stands. */
export function BedMap({ job, tower }: { job: JobView; tower: Tower }) {
  const [bx, by] = job.printer.bed_mm;
  const scale = side / Math.max(bx, by);
  const middle = [job.low_mm[0] + job.size_mm[0] / 2, job.low_mm[1] + job.size_mm[1] / 2];
  const [w, h] = [bx * scale, by * scale];
  // y of the bed goes to the back, that of the drawing down.
  const box = (cx: number, cy: number, sx: number, sy: number) => ({
    x: w / 2 + (cx - sx / 2) * scale,
    y: h / 2 - (cy + sy / 2) * scale,
    width: Math.max(1, sx * scale),
    height: Math.max(1, sy * scale),
  });
  return (
    <svg width={w} height={h} role="img" aria-label="The bed from above" className="shrink-0 border border-line bg-sheet">
      {job.copy_shifts.map(([x, y]) => (
        <rect key={`${x} ${y}`} {...box(x, y, job.size_mm[0], job.size_mm[1])} fill="#d8dadb" stroke="#76787c" strokeWidth="0.7" />
      ))}
      {tower.at && (
        <rect
          {...box(tower.at[0] - (middle[0] ?? 0), tower.at[1] - (middle[1] ?? 0), tower.side_mm, tower.side_mm)}
          fill="#6a2859"
          fillOpacity="0.25"
          stroke="#6a2859"
        />
      )}
    </svg>
  );
}
