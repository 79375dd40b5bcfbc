import type { MovesFigure } from "../../api/generated/MovesFigure";
import type { MovesView } from "../../api/generated/MovesView";
import { usePrinting } from "../../api/moves";
import { usePlanning } from "../../api/planning";
import { useBench } from "../../state/bench";
import { duration, fixed, grams, percent } from "../../ui/format";

const names: Record<MovesFigure["of"], string> = {
  laying: "Laying down",
  swaps: "Swaps and purge",
  travel: "Travel",
  start: "Start, heating",
  time: "All of it",
  model: "Plastic, model",
  purge: "Plastic, purge and tower",
};

/** Within this share a time is as good as the same. */
const near = 0.03;

const isGrams = (f: MovesFigure) => f.of === "model" || f.of === "purge";
const shown = (f: MovesFigure, v: number) => (isGrams(f) ? grams(v) : duration(v));

/** What the moves come to, beside what was planned from the layers. */
export function MovesTable({ id, moves }: { id: number; moves: MovesView }) {
  const { knownTime } = usePlanning(id);
  const time = moves.figures.find((f) => f.of === "time");
  const off = time?.planned ? time.moves / time.planned - 1 : 0;
  return (
    <section aria-label="From the moves">
      <h2 className="heading flex justify-between">
        <span>From the moves, not from an estimate</span>
        <span className="font-normal">planned</span>
      </h2>
      <table className="mt-1 w-full">
        <tbody>
          {moves.figures.map((f) => (
            <tr key={f.of} className={`border-b border-dotted border-line ${f.of === "time" ? "font-semibold" : ""}`}>
              <td className="py-1">{names[f.of]}</td>
              <td className="figure py-1 text-right">{shown(f, f.moves)}</td>
              <td className="figure w-24 py-1 text-right text-soft">{f.planned === null ? "–" : shown(f, f.planned)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {time && Math.abs(off) > near && (
        <p className="pt-2 text-[12.5px] text-soft">
          The plan reckons with speeds alone: no corners, no slowing down of small layers. It is off by{" "}
          <span className="figure">{percent(Math.abs(off))}</span>.{" "}
          <button
            type="button"
            className="font-semibold text-plum hover:underline"
            disabled={knownTime.isPending}
            onClick={() => knownTime.mutate(time.moves)}
          >
            Let it learn from the moves
          </button>
        </p>
      )}
    </section>
  );
}

/** While moves are being made, or if there are none: how far, or why not. */
export function MovesState({ id, moves }: { id: number; moves: MovesView | undefined }) {
  const { again, stop } = usePrinting(id);
  if (moves?.problem) {
    return (
      <div role="alert" className="text-[12.5px]">
        <p className="font-semibold">{moves.problem.message}</p>
        <p className="text-soft">{moves.problem.mend}</p>
      </div>
    );
  }
  if (moves?.state === "stopped") {
    return (
      <p className="flex items-baseline gap-2 text-soft">
        Stopped before the moves were there.
        <button type="button" className="font-semibold text-plum hover:underline" onClick={() => void again()}>
          Go on
        </button>
      </p>
    );
  }
  if (moves?.state === "ready") return null;
  return (
    <div className="flex items-center gap-3 text-soft" role="status">
      <span className="shrink-0">{moves?.state === "working" ? "Laying beads" : "Waiting for the plan"}</span>
      <span className="h-[3px] min-w-16 flex-1 bg-line">
        <span className="block h-full bg-plum" style={{ width: `${100 * (moves?.done ?? 0)}%` }} />
      </span>
      <button type="button" className="font-semibold text-plum hover:underline" onClick={() => void stop()}>
        Stop
      </button>
    </div>
  );
}

/** What is laid over nothing, said before anything goes to the printer. */
export function Hanging({ moves }: { moves: MovesView }) {
  const setLayer = useBench((s) => s.setLayer);
  const [worst] = moves.hanging;
  if (!worst) return null;
  const shown = moves.hanging.slice(0, 4);
  const rest = moves.hanging.length - shown.length;
  return (
    <section aria-label="What hangs" className="border-b border-line py-2.5 text-[12.5px]">
      <p>
        <b className="text-look">Something hangs over nothing.</b>{" "}
        <span className="text-soft">It will sag. Turn the model, or have it held up (How it prints, “hold up”).</span>
      </p>
      <p className="flex flex-wrap gap-x-4">
        {shown.map((run) => (
          <button key={run.first} type="button" className="font-semibold text-plum hover:underline" onClick={() => setLayer(run.first)}>
            {run.first === run.last ? `layer ${run.first + 1}` : `layers ${run.first + 1} to ${run.last + 1}`}
            <span className="figure ml-1.5 font-normal text-soft">{fixed(run.most_mm2, 0)} mm²</span>
          </button>
        ))}
        {rest > 0 && <span className="text-soft">and {rest} more</span>}
      </p>
    </section>
  );
}
