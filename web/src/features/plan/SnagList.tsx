import type { JobView } from "../../api/generated/JobView";
import type { Saving } from "../../api/generated/Saving";
import type { SnagSort } from "../../api/generated/SnagSort";
import type { SnagsView } from "../../api/generated/SnagsView";
import { api } from "../../api/client";
import { usePlanning } from "../../api/planning";
import { useChanges, usePlan } from "../../api/queries";
import { useBench } from "../../state/bench";
import { Explained } from "../words/Explained";
import { useLatestPlan } from "../score/useLatestPlan";
import { Button } from "../../ui/Button";
import { duration, fixed } from "../../ui/format";
import { LeaveOnPurpose, LeftOnPurpose } from "../../ui/LeaveOnPurpose";
import { Bar } from "../../ui/states";
import { useOf } from "../../state/useOf";

const sorts: Record<SnagSort, string> = {
  deeper: "Deeper costs less",
  trifle: "Next to nothing",
  edge: "A border askew",
  heights: "A hair apart",
  "bare-walls": "Bare walls",
  thin: "Too thin",
  "alike-spools": "Spools alike",
  "other-spool": "Another spool",
  remnant: "A remnant to use up",
  "layer-grid": "Off the layers",
};

/** Places where a small change saves something, each shown on the bench and mended in one click. */
export function SnagList({
  job,
  view,
  toBench,
}: {
  job: JobView;
  view: SnagsView | undefined;
  /** Goes where the facets of the snag that is chosen can be seen. */
  toBench?: () => void;
}) {
  const { again } = usePlanning(job.id);
  const { edit, isBusy } = useChanges(job.id);
  const { snag: chosen, setSnag, setLayer } = useOf(useBench, "snag", "setSnag", "setLayer");
  const plan = useLatestPlan(usePlan(job.id).data);
  if (!view)
    return (
      <p className="text-soft" role="status">
        Looking
      </p>
    );
  const isOld = view.revision < job.revision;
  const show = (i: number, low: number) => {
    if (chosen === i) return setSnag(null);
    setSnag(i);
    const at = plan?.plan.layers.findIndex((l) => l.z1_mm > low + 1e-6) ?? -1;
    if (at >= 0) setLayer(at);
  };
  return (
    <section aria-label="Snags">
      {view.state === "working" && (
        <p className="flex items-center gap-2 pb-1 text-soft" role="status">
          Trying mends <Bar done={view.done} />{" "}
          <Button kind="link" onClick={() => void api.stopTrials(job.id)}>
            Stop
          </Button>
        </p>
      )}
      {view.snags.length > 0 && (
        <p className="pb-1 text-[12px] text-soft">
          <Explained word="snag">Snags</Explained> that keep the look come first, then those that save most.
        </p>
      )}
      {view.state === "waiting" && (
        <p className="text-soft" role="status">
          The plan comes first.
        </p>
      )}
      {view.state === "stopped" && (
        <p className="text-soft">
          Stopped.{" "}
          <Button kind="link" onClick={() => void again("snags")}>
            Look again
          </Button>
        </p>
      )}
      {view.state === "ready" && view.snags.length === 0 && (
        <p className="text-soft" role="status">
          No snags: no small change was found that would save swaps or purge.
        </p>
      )}
      <ul className={isOld ? "opacity-60" : ""} aria-busy={isOld}>
        {view.snags.map((s, i) => (
          <li
            key={i}
            className={`border-b border-line py-1.5 ${chosen === i ? "bg-plum-tint" : ""} ${s.accepted === null ? "" : "opacity-70"}`}
          >
            <p className="flex flex-wrap items-baseline justify-between gap-x-2">
              <span className="whitespace-nowrap text-[12px]">
                <span className="font-semibold text-wrong">{sorts[s.sort]}</span>
                <span className="text-soft"> · {s.keeps_look ? "looks the same" : "changes the look"}</span>
              </span>
              <span
                className={`figure text-[12px] ${s.saves.swaps < 0 || s.saves.waste_g < -0.05 ? "text-soft" : "text-fine"}`}
                title="Planned in full with the mend done"
              >
                {savingText(s.saves)}
              </span>
            </p>
            <p className="leading-snug">{s.what}.</p>
            {s.accepted !== null && <LeftOnPurpose accepted={s.accepted} />}
            <p className="flex flex-wrap gap-x-4 pt-0.5">
              <Button
                kind="link"
                className="text-left text-[12.5px]"
                disabled={isBusy || isOld}
                onClick={() => {
                  setSnag(null);
                  edit(s.edit);
                }}
              >
                {s.mend}
              </Button>
              <button
                type="button"
                className="text-[12.5px] text-soft hover:text-ink hover:underline"
                aria-pressed={chosen === i}
                onClick={() => show(i, s.low_mm)}
              >
                {chosen === i ? "Shown" : "Show"}
              </button>
              <LeaveOnPurpose
                accepted={s.accepted}
                isOff={isBusy || isOld}
                onLeave={(note) => edit({ edit: "plan", do: "accept", snag: s.what, note })}
              />
              {chosen === i && toBench && (
                <button type="button" className="text-[12.5px] text-soft hover:text-ink hover:underline" onClick={toBench}>
                  On the bench
                </button>
              )}
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What a mend saves, in words. */
function savingText(s: Saving) {
  const parts = [];
  const sign = (saved: number) => (saved > 0 ? "−" : "+");
  const swaps = Math.abs(s.swaps);
  if (swaps > 0) parts.push(`${sign(s.swaps)}${swaps} ${swaps === 1 ? "swap" : "swaps"}`);
  if (Math.abs(s.waste_g) >= 0.05) parts.push(`${sign(s.waste_g)}${fixed(Math.abs(s.waste_g), 1)} g`);
  if (Math.abs(s.time_s) >= 60) parts.push(`${sign(s.time_s)}${duration(Math.abs(s.time_s))}`);
  return parts.join(", ") || "cleaner, costs nothing";
}
