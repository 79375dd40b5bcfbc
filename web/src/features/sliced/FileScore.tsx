import { scaleLinear } from "d3-scale";
import { useMemo, useRef, type PointerEvent } from "react";
import type { FileReport } from "../../api/generated/FileReport";
import type { JobView } from "../../api/generated/JobView";
import { fixed } from "../../ui/format";
import { slotColour } from "../score/names";
import { Rows } from "../score/Rows";
import { HeightTicks, LayerCursor, layerByKey } from "../score/ScoreParts";
import type { Row } from "../score/scorePaths";
import { useWidth } from "../score/useWidth";

const left = 172;
const right = 24;
const top = 26;
const foot = 34;

/** Layers of a print file against slots, with every change drawn; the cursor is dragged or moved by keys. */
export function FileScore({
  job,
  report,
  layer,
  setLayer,
  height,
}: {
  job: JobView;
  report: FileReport;
  layer: number;
  setLayer: (layer: number) => void;
  height: number;
}) {
  const host = useRef<HTMLDivElement>(null);
  const width = useWidth(host);
  const { layers, changes } = report;
  const used = useMemo(() => [...new Set(layers.flatMap((l) => l.order))].sort((a, b) => a - b), [layers]);
  const high = layers.at(-1)?.z1_mm ?? 1;
  const x = useMemo(() => scaleLinear([0, high], [left, Math.max(width - right, left + 10)]), [high, width]);
  const rows = useMemo((): Row[] => {
    const gap = (height - top - foot) / Math.max(used.length, 1);
    return used.map((slot, i) => ({ slot, y: top + gap * (i + 0.5), half: Math.min(11, gap * 0.36) }));
  }, [used, height]);
  const here = layers[layer];
  if (!here) return <div className="grid h-full place-items-center text-soft">Nothing is laid in this file</div>;
  const cursor = x(0.5 * (here.z0_mm + here.z1_mm));
  const tag = `${fixed(here.z1_mm, 1)} mm · L${layer + 1}`;
  const lowest = height - foot + 4;
  const scrub = (e: PointerEvent<SVGSVGElement>) => {
    const box = host.current?.getBoundingClientRect();
    const z = x.invert(e.clientX - (box?.left ?? 0));
    const at = layers.findIndex((l) => z < l.z1_mm);
    setLayer(at < 0 ? layers.length - 1 : at);
  };
  return (
    <div ref={host} className="relative h-full select-none">
      {rows.map((row) => {
        const slot = job.slots[row.slot - 1];
        return (
          <div key={row.slot} className="absolute left-3.5 flex items-center gap-2" style={{ top: row.y - 14, width: left - 24 }}>
            <span className="size-[18px] shrink-0 rounded-[4px] border border-black/30" style={{ background: slotColour(job, row.slot) }} />
            <span className="min-w-0 leading-[1.15]">
              <span className="block truncate text-[12px] font-semibold">{slot?.spool?.name ?? (slot ? "No spool" : "No such slot")}</span>
              {(height - top - foot) / rows.length > 30 && <span className="figure block text-[11px] text-soft">slot {row.slot}</span>}
            </span>
          </div>
        );
      })}
      <svg
        width={width}
        height={height}
        role="slider"
        tabIndex={0}
        aria-label="Layer of the file's score"
        aria-valuemin={1}
        aria-valuemax={layers.length}
        aria-valuenow={layer + 1}
        aria-valuetext={tag}
        className="group absolute inset-0 cursor-ew-resize outline-none"
        onPointerDown={(e) => {
          e.currentTarget.setPointerCapture(e.pointerId);
          scrub(e);
        }}
        onPointerMove={(e) => e.currentTarget.hasPointerCapture(e.pointerId) && scrub(e)}
        onKeyDown={(e) => {
          const to = layerByKey(e.key, layer, layers.length);
          if (to === null) return;
          e.preventDefault();
          setLayer(to);
        }}
      >
        <Rows job={job} layers={layers} swaps={changes} rows={rows} x={x} from={0} to={high} id="file" />
        <HeightTicks x={x} y={lowest} right={width - right} foot={height - 3} />
        <text x={14} y={height - foot + 19} fontSize="12" fontWeight="600" fill="#5d5f63">
          Score of the file
        </text>
        <LayerCursor x={cursor} tag={tag} low={left} high={width - right} bottom={lowest} />
      </svg>
    </div>
  );
}
