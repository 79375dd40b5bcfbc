import { Pause, Play } from "lucide-react";
import { useMemo } from "react";
import type { JobView } from "../../api/generated/JobView";
import { kindNames, layerMoves, TRAVEL, type MoveData } from "../../api/moveData";
import { useBeadView } from "../../state/beadView";
import { useMark } from "../../state/mark";
import { useOf } from "../../state/useOf";
import { fixed } from "../../ui/format";
import { Track } from "../../ui/Track";
import { BeadLegend, BeadTools } from "./BeadTools";
import { FlatDrawing } from "./FlatDrawing";
import { StackedDrawing } from "./StackedDrawing";
import { usePlayed } from "./usePlayed";

/** What a move that lays nothing does. */
const doing = (kind: number) =>
  ["travel", "up or down", "pulls back", "gives back", "presses out", "change of filament"][kind - TRAVEL] ?? "travel";

const paces = [1, 5, 20, 100];

/** The beads of a layer as they will lie, played in the order in which they are laid; or all up to it, stacked. */
export function BeadsPane({
  job,
  data,
  layer,
  topMm,
  isStale,
  hasKinds = true,
}: {
  job: JobView;
  data: MoveData;
  layer: number;
  /** Top of the layer, mm. */
  topMm: number;
  isStale: boolean;
  /** Whether it is known what each bead is for. */
  hasKinds?: boolean;
}) {
  const view = useOf(useBeadView, "by", "hasSeams", "hasTower", "hasTravel", "isStacked", "pace", "set");
  const marks = useMark();
  const moves = useMemo(() => layerMoves(data, layer), [data, layer]);
  const by = !hasKinds && view.by === "kind" ? "spool" : view.by;
  const played = usePlayed(data, moves, view.pace);
  const colours = useMemo(() => job.slots.map((s) => s.colour), [job.slots]);
  const count = moves.moves.length;
  const at = Math.min(played.shown, count) - 1;
  const move = moves.moves[at];
  const kind = move === undefined ? undefined : data.kinds[move];
  const isLaying = kind !== undefined && kind < TRAVEL;
  const slot = move === undefined ? undefined : job.slots[(data.slots[move] ?? 1) - 1];
  const now = played.tip === null ? (moves.times[count - 1] ?? 0) : (moves.times[at] ?? 0);
  const said =
    move === undefined
      ? "nothing is laid"
      : `bead ${moves.beads[at]} of ${moves.beadCount} · ` +
        (isLaying
          ? `${hasKinds ? `${kindNames[kind]}, ` : ""}${fixed((data.widths[move] ?? 0) / 1000, 2)} mm wide, ${Math.round((data.speeds[move] ?? 0) / 10)} mm/s`
          : doing(kind ?? TRAVEL));
  return (
    <div
      className="flex h-full min-h-0 flex-col outline-none focus-visible:shadow-[inset_0_0_0_2px_var(--color-plum)]"
      tabIndex={0}
      role="group"
      aria-label="Beads"
      aria-busy={isStale}
      data-moves={count}
      data-shown={played.shown}
      onKeyDown={(e) => {
        const by = e.shiftKey ? 20 : 1;
        if (e.key === "ArrowRight") played.scrub(Math.min(count, played.shown + by));
        else if (e.key === "ArrowLeft") played.scrub(Math.max(1, played.shown - by));
        else if (e.key === " " && e.target === e.currentTarget) (played.isPlaying ? played.stop : played.play)();
        else return;
        e.preventDefault();
      }}
    >
      <div className={`relative min-h-0 flex-1 ${isStale ? "opacity-60" : ""}`}>
        {view.isStacked ? (
          <StackedDrawing job={job} data={data} topMm={topMm} by={by} colours={colours} />
        ) : (
          <FlatDrawing
            data={data}
            layer={moves}
            played={played}
            by={by}
            colours={colours}
            hasTravel={view.hasTravel}
            hasSeams={view.hasSeams}
            hasTower={view.hasTower}
            mark={marks.mark?.layer === layer ? marks.mark.at : null}
            onMark={marks.isMarking ? (at) => marks.set({ mark: { layer, at } }) : null}
          />
        )}
        <div className="pointer-events-none absolute bottom-1.5 left-3.5">
          <BeadLegend data={data} by={by} />
        </div>
      </div>
      <div className="shrink-0 border-t border-line bg-sheet px-3.5 py-1.5">
        <div className="flex items-baseline justify-between gap-4">
          <BeadTools hasKinds={hasKinds} />
        </div>
        {!view.isStacked && (
          <>
            <div className="mt-1 flex items-center gap-3">
              <button
                type="button"
                aria-label={played.isPlaying ? "Pause" : "Play the layer"}
                className="flex size-6 shrink-0 items-center justify-center rounded-[4px] border border-line hover:border-faint"
                onClick={played.isPlaying ? played.stop : played.play}
              >
                {played.isPlaying ? <Pause size={12} aria-hidden /> : <Play size={12} aria-hidden />}
              </button>
              <Track label="Beads laid" max={Math.max(count, 1)} value={played.shown} onChange={played.scrub} className="min-w-0 flex-1" />
              <button
                type="button"
                title="How many times as fast as the printer"
                aria-label={`Pace: ${view.pace} times as fast`}
                className="figure w-10 shrink-0 text-right text-soft hover:text-ink"
                onClick={() => view.set({ pace: paces[(paces.indexOf(view.pace) + 1) % paces.length] ?? 20 })}
              >
                {view.pace}×
              </button>
            </div>
            <p className="figure flex items-center justify-between gap-3 text-[11.5px] text-soft" aria-live="off">
              <span className="flex min-w-0 items-center gap-1.5 truncate">
                {slot && <span className="size-2.5 shrink-0 rounded-[2px] border border-black/30" style={{ background: slot.colour }} />}
                <span className="truncate">{said}</span>
              </span>
              <span className="shrink-0">{fixed(now, 1)} s</span>
            </p>
          </>
        )}
      </div>
    </div>
  );
}
