import type { ReactNode } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { PlanView } from "../../api/generated/PlanView";
import { change, duration, durationChange, fixed, grams } from "../../ui/format";
import { Explained } from "../words/Explained";
import { PlanState } from "../score/PlanState";

type Ready = Extract<PlanView, { state: "ready" }>;

/** The bill in one line, with what the last edit did to it. */
export function BillHead({ job, plan, latest }: { job: JobView; plan: PlanView | undefined; latest: Ready | null }) {
  const isStale = plan?.state !== "ready" || plan.revision < job.revision;
  const bill = latest?.plan.bill;
  const by = isStale ? undefined : (latest?.change ?? undefined);
  // Once the moves are there, the time is theirs.
  const time = latest?.moves_s ?? undefined;
  const waste = by && by.purge_g + by.tower_g;
  return (
    <div className="shrink-0 border-b border-line px-4 py-2">
      {bill && (
        <dl className={`flex justify-between gap-3 ${isStale ? "opacity-60" : ""}`} aria-label="The bill" aria-busy={isStale}>
          <Figure
            name={time === undefined ? "Time, estimated" : "Time, from the moves"}
            value={duration(time ?? bill.time_s)}
            mark={durationChange(by?.time_s)}
          />
          <Figure name={<Explained word="swap">Swaps</Explained>} value={String(bill.swaps)} mark={change(by?.swaps, 0)} />
          <Figure name="Wasted" value={grams(bill.purge_g + bill.tower_g)} mark={change(waste, 1)} />
          <Figure name="Cost" value={fixed(bill.cost, 2)} mark={change(by?.cost, 2)} />
          {bill.hand_swaps > 0 && <Figure name="By hand" value={`${bill.hand_swaps}×, ${duration(bill.hand_s)}`} mark={null} />}
          {job.rules.is_quick && (
            <span className="self-center rounded-[3px] border border-look px-1.5 text-[11px] font-semibold text-look">quick</span>
          )}
        </dl>
      )}
      <PlanState job={job} plan={plan} isOldShown={bill !== undefined} className="mt-1" />
    </div>
  );
}

function Figure({ name, value, mark }: { name: ReactNode; value: string; mark: string | null }) {
  return (
    <div className="min-w-0">
      <dt className="whitespace-nowrap text-[11.5px] text-soft">
        {name}
        {mark && (
          <span
            data-testid="change"
            className={`figure ml-1 text-[11px] font-semibold ${mark.startsWith("+") ? "text-wrong" : "text-fine"}`}
          >
            {mark}
          </span>
        )}
      </dt>
      <dd className="figure whitespace-nowrap text-[13.5px] font-semibold">{value}</dd>
    </div>
  );
}
