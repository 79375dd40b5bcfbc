import { api } from "../../api/client";
import { limits } from "../../api/generated/limits";
import type { JobView } from "../../api/generated/JobView";
import { deepestRow, useChanges, useDepths } from "../../api/queries";
import { useBench } from "../../state/bench";
import { counted, duration, fixed, grams } from "../../ui/format";
import { Button } from "../../ui/Button";
import { NumberField } from "../../ui/NumberField";
import { useOf } from "../../state/useOf";

/** What each depth of the chosen region costs, and from which on nothing shines through. */
export function DepthTable({ job }: { job: JobView }) {
  const { region, settings, set } = useOf(useBench, "region", "settings", "set");
  const { edit } = useChanges(job.id);
  const found = useDepths(job.id, job.revision, region, settings.hidingTolerance, true);
  const chosen = job.regions.find((r) => r.key === region);
  const choices = found.data?.table.region === region ? found.data.table : undefined;
  const isStopped = found.data?.state === "stopped";
  const goOn = () => void api.depths(job.id, region, deepestRow, settings.hidingTolerance, true).then(() => found.refetch());
  const isGoingOn = found.data?.state === "working" || found.data?.state === "waiting";
  return (
    <div aria-label="Depth">
      <p className="truncate px-3.5 pt-2 text-[12px] text-soft">
        How deep <b className="text-ink">{chosen?.name}</b> goes
      </p>
      <div className="flex justify-end px-3.5 pb-1 text-[12px] text-soft">
        <label className="flex items-center gap-1" title="Difference of colours (CIEDE2000) that counts as hidden">
          hidden up to{" "}
          <NumberField
            label="Difference that may shine through"
            value={settings.hidingTolerance}
            unit="ΔE"
            digits={1}
            width={58}
            isLow
            range={limits.tolerance}
            onCommit={(hidingTolerance) => set({ hidingTolerance })}
          />
        </label>
      </div>
      {!choices ? (
        <p className="px-3.5 text-soft" role="status">
          {found.error ? found.error.message : "Planning every depth"}
        </p>
      ) : choices.choices.length === 0 && !isGoingOn && !isStopped ? (
        <p className="px-3.5 pb-2 text-soft" role="status">
          It covers whole parts only, so it goes as deep as they do.
        </p>
      ) : (
        <>
          <table className="figure w-full text-right text-[11.5px]">
            <thead className="text-soft">
              <tr className="border-b border-line [&>th]:py-0.5 [&>th]:pl-2 [&>th]:font-normal">
                <th className="pl-3.5! text-left">layers</th>
                <th>swaps</th>
                <th>purge</th>
                <th>time</th>
                <th className="pr-3.5" title="How far the colour is off because of what lies below">
                  shows
                </th>
              </tr>
            </thead>
            <tbody>
              {choices.choices.map((c) => {
                const now = chosen?.depth;
                const isNow = now?.by === "mm" ? Math.abs(now.mm - c.mm) < 1e-6 : now?.by === "layers" && now.layers === c.layers;
                const hides = c.shows <= choices.tolerance;
                return (
                  <tr
                    key={c.layers}
                    tabIndex={0}
                    aria-label={`${counted(c.layers, "layer")}, ${fixed(c.mm, 2)} mm`}
                    aria-current={isNow ? "true" : undefined}
                    title={`Let it soak in ${fixed(c.mm, 2)} mm`}
                    className={`cursor-pointer border-b border-line outline-none focus-visible:shadow-[inset_0_0_0_2px_var(--color-plum)] [&>td]:whitespace-nowrap [&>td]:py-[3px] [&>td]:pl-2 ${isNow ? "bg-plum-tint font-semibold" : "hover:bg-sheet"}`}
                    onClick={() => edit({ edit: "set-soak", region, soak_mm: c.mm })}
                    onKeyDown={(e) => e.key === "Enter" && edit({ edit: "set-soak", region, soak_mm: c.mm })}
                  >
                    <td className="pl-3.5! text-left">
                      {c.layers} <span className="text-faint">{fixed(c.mm, 2)}</span>
                    </td>
                    <td>{c.swaps}</td>
                    <td>{grams(c.purge_g)}</td>
                    <td>{c.time_s < 3600 ? duration(c.time_s) : `${fixed(c.time_s / 3600, 1)} h`}</td>
                    <td className={`pr-3.5 ${hides ? "" : "text-amber"}`}>{fixed(c.shows, 1)}</td>
                  </tr>
                );
              })}
              {(isGoingOn || isStopped) && (
                <tr>
                  <td colSpan={5} className="py-1 pl-3.5! text-left font-sans text-[12px] text-soft" role="status">
                    {isStopped ? "Stopped after" : "Planning"} {isStopped ? choices.choices.length : choices.choices.length + 1} of{" "}
                    {deepestRow}{" "}
                    <Button kind="link" onClick={() => (isStopped ? goOn() : void api.stopTrials(job.id))}>
                      {isStopped ? "Begin again" : "Stop"}
                    </Button>
                  </td>
                </tr>
              )}
            </tbody>
          </table>
          <p className="px-3.5 py-2 text-[12px] text-soft">
            {choices.least_mm === null ? (
              "No depth hides what lies below."
            ) : choices.least_mm === 0 ? (
              "What lies below has the same colour."
            ) : (
              <>
                From <span className="figure text-ink">{fixed(choices.least_mm, 2)} mm</span> on,{" "}
                {choices.least_layers === 1 ? "one layer" : `${choices.least_layers} layers`}, nothing shines through.
              </>
            )}
            <span
              className="ml-1.5 inline-block size-2.5 rounded-full border border-black/25 align-[-1px]"
              style={{ background: choices.over }}
              title="The colour below"
            />
          </p>
        </>
      )}
    </div>
  );
}
