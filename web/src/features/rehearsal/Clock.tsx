import { Pause, Play } from "lucide-react";
import type { RehearsalView } from "../../api/generated/RehearsalView";
import { Select } from "../../ui/Select";
import { duration } from "../../ui/format";

/** Seconds of the print a second; none is as fast as it goes. */
const paces: [string, number | null][] = [
  ["1×", 1],
  ["20×", 20],
  ["100×", 100],
  ["500×", 500],
  ["2000×", 2000],
  ["at once", null],
];

/** Going on, standing still, how fast, and how far it is. */
export function Clock({
  rehearsal,
  pace,
  isGoing,
}: {
  rehearsal: RehearsalView;
  pace: (speed: number | null) => Promise<void>;
  isGoing: boolean;
}) {
  const { speed, status, passed_s, whole_s } = rehearsal;
  const isOver = status.is === "done" || status.is === "stopped" || status.is === "dead";
  const now = paces.find(([, s]) => s === speed)?.[0];
  return (
    <div className="absolute inset-x-4 bottom-3 flex items-center gap-2.5">
      <button
        type="button"
        disabled={isOver || status.is === "waits"}
        onClick={() => void pace(isGoing ? 0 : 500)}
        className="flex h-7 items-center gap-1.5 rounded-[4px] bg-plum px-3 font-semibold text-white disabled:opacity-45"
      >
        {isGoing ? <Pause size={13} aria-hidden /> : <Play size={13} aria-hidden />}
        {isGoing ? "Hold" : "Go on"}
      </button>
      <Select
        label="Pace"
        value={now ?? "stands"}
        options={[...(now ? [] : [{ value: "stands", label: "stands still" }]), ...paces.map(([name]) => ({ value: name, label: name }))]}
        onChange={(name) => {
          const chosen = paces.find(([of]) => of === name);
          if (chosen) void pace(chosen[1]);
        }}
        className="w-24"
      />
      <span className="figure rounded-[4px] bg-bench/80 px-1.5 py-0.5" role="timer">
        {duration(passed_s)} of {duration(whole_s)} · layer {rehearsal.layer + 1}
      </span>
    </div>
  );
}
