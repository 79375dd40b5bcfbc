import type { JobView } from "../../api/generated/JobView";
import type { PlanView } from "../../api/generated/PlanView";
import { change, duration, durationChange, fixed, grams } from "../../ui/format";
import { Materials } from "../plan/Materials";
import { PlanState } from "../score/PlanState";
import { useLatestPlan } from "../score/useLatestPlan";
import { Explained } from "../words/Explained";

/** The running total, with what the last edit did to it. */
export function BillPane({ job, plan }: { job: JobView; plan: PlanView | undefined }) {
  const latest = useLatestPlan(plan);
  const isStale = plan?.state !== "ready" || plan.revision < job.revision;
  const bill = latest?.plan.bill;
  const by = isStale ? undefined : (latest?.change ?? undefined);
  if (job.machine.jets)
    return (
      <div className="px-3 pt-3">
        <div className="torn bg-sheet px-3.5 py-4 drop-shadow-[0_0_0.5px_rgb(0_0_0/0.6)]" aria-label="If printed now">
          <p className="heading pb-1.5">
            <Explained word="bill">If printed now</Explained>
          </p>
          <Materials job={job} />
        </div>
      </div>
    );
  return (
    <>
      <div className="px-3 pt-3">
        <div
          className={`torn bg-sheet px-3.5 pt-4 drop-shadow-[0_0_0.5px_rgb(0_0_0/0.6)] ${isStale && bill ? "opacity-60" : ""}`}
          aria-label="If printed now"
          aria-busy={isStale}
        >
          <p className="heading">
            <Explained word="bill">If printed now</Explained>
          </p>
          {bill ? (
            <>
              <p className="mt-1 flex items-baseline gap-2 text-[20px] font-bold">
                {duration(bill.time_s)}
                <Mark text={durationChange(by?.time_s)} />
              </p>
              <dl className="mt-1.5">
                <Line name="Swaps" value={String(bill.swaps)} mark={change(by?.swaps, 0)} />
                <Line name="In the model" value={grams(bill.model_g)} mark={change(by?.model_g, 1)} />
                <Line name="Purged" value={grams(bill.purge_g)} mark={change(by?.purge_g, 1)} />
                <Line name="Tower" value={grams(bill.tower_g)} mark={change(by?.tower_g, 1)} />
                <Line name="Filament cost" value={fixed(bill.cost, 2)} mark={change(by?.cost, 2)} />
                <Line
                  name="Wasted share"
                  value={`${fixed(100 * bill.wasted_share, 0)} %`}
                  mark={change(by && 100 * by.wasted_share, 0)}
                  isLast
                />
              </dl>
            </>
          ) : (
            <p className="py-8 text-soft">{plan?.state === "failed" ? "No bill" : "Being worked out"}</p>
          )}
        </div>
      </div>
      <PlanState job={job} plan={plan} isOldShown={bill !== undefined} className="px-3.5 pt-3" />
    </>
  );
}

function Line({ name, value, mark, isLast }: { name: string; value: string; mark: string | null; isLast?: boolean }) {
  return (
    <div className={`flex items-baseline justify-between py-[3.5px] ${isLast ? "" : "border-b border-dotted border-faint/60"}`}>
      <dt>{name}</dt>
      <dd className="figure flex items-baseline gap-1.5">
        <Mark text={mark} />
        {value}
      </dd>
    </div>
  );
}

function Mark({ text }: { text: string | null }) {
  if (!text) return null;
  const isMore = text.startsWith("+");
  return (
    <span data-testid="change" className={`figure text-[11px] font-semibold ${isMore ? "text-wrong" : "text-fine"}`}>
      {text}
    </span>
  );
}
