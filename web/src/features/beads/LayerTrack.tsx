import { fixed } from "../../ui/format";
import { Track } from "../../ui/Track";

/** Which layer is on show, dragged. */
export function LayerTrack({
  layer,
  count,
  topMm,
  digits = 1,
  onChange,
}: {
  layer: number;
  count: number;
  topMm: number;
  digits?: number;
  onChange: (layer: number) => void;
}) {
  return (
    <div className="shrink-0 border-y border-line bg-sheet px-3.5 py-2">
      <div className="flex items-baseline justify-between">
        <span>
          <b>Layer {layer + 1}</b>
          <span className="figure ml-2 text-soft">{fixed(topMm, digits)} mm</span>
        </span>
        <span className="figure text-[11.5px] text-soft">of {count}</span>
      </div>
      <Track label="Layer" max={Math.max(count - 1, 1)} value={layer} onChange={onChange} />
    </div>
  );
}
