import { api } from "../../api/client";
import type { JobView } from "../../api/generated/JobView";
import { outputs } from "../../api/generated/outputs";
import { usePlan } from "../../api/queries";
import { Cautions } from "../plan/Cautions";
import { go } from "../../state/route";
import { BodiesRow } from "./BodiesRow";
import { Download } from "./Download";
import { Button } from "../../ui/Button";
import { counted, duration, grams } from "../../ui/format";

/** Those that stand in rows of their own accord. */
const listed = Object.values(outputs).filter((o) => o.isListed);

/** The files of a job, each with what it carries and what it loses. */
export function HandoverStage({ job }: { job: JobView }) {
  const plan = usePlan(job.id).data;
  const bill = plan?.state === "ready" ? plan.plan.bill : null;
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto max-w-[1040px] px-10 py-8">
        <div className="flex items-baseline justify-between">
          <h1 className="text-lg">Take it to the printer</h1>
          <span className="figure text-soft">
            {bill
              ? `${duration(bill.time_s)} · ${counted(bill.swaps, "swap")} · ${grams(bill.model_g + bill.purge_g + bill.tower_g)} in all`
              : "the plan is being worked out"}
          </span>
        </div>
        {plan?.state === "ready" && <Cautions job={job} cautions={plan.plan.cautions} isFree />}
        <table className="mt-4 w-full border-t border-line">
          <thead>
            <tr className="border-b border-line text-left">
              <th className="heading w-60 py-2 font-semibold">File</th>
              <th className="heading py-2 font-semibold">Carries</th>
              <th className="heading py-2 pl-6 font-semibold">Loses</th>
              <th className="w-28">
                <span className="sr-only">Download</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {listed.flatMap((o) => {
              const isReady = !o.needsPlan || bill !== null;
              const row = (
                <tr key={o.file} className="border-b border-line align-top">
                  <td className="py-3 font-semibold">{o.name}</td>
                  <td className="py-3">{o.carries}</td>
                  <td className="py-3 pl-6 text-soft">{o.loses}</td>
                  <td className="py-2.5 text-right">
                    {isReady ? <Download href={api.fileUrl(job.id, o.file)} name={o.name} /> : <span className="text-soft">waiting</span>}
                  </td>
                </tr>
              );
              // The bodies stand below the model they are an alternative to.
              return o.file === outputs.model.file ? [row, <BodiesRow key="bodies" job={job} />] : [row];
            })}
            <tr className="border-b border-line align-top">
              <td className="py-3 font-semibold">Run sheet</td>
              <td className="py-3">
                What to load where, every swap in order with its height, and the grams: for the person at the machine.
              </td>
              <td className="py-3 pl-6 text-soft">It is paper.</td>
              <td className="py-2.5 text-right">
                <Button onClick={() => go(`/jobs/${job.id}/run-sheet`)} className="text-plum">
                  Open
                </Button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </div>
  );
}
