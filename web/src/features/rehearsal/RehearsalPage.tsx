import { useEffect } from "react";
import type { JobView } from "../../api/generated/JobView";
import { useMoveData, useMoves } from "../../api/moves";
import { usePlan } from "../../api/queries";
import { isGoing, useRehearsal, useRehearsing } from "../../api/rehearsal";
import { useBench } from "../../state/bench";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { Waiting } from "../../ui/states";
import { SwapScore } from "../score/SwapScore";
import { Clock } from "./Clock";
import { GrowingPrint } from "./GrowingPrint";
import { laidNow } from "./whereItIs";
import { InNozzle } from "./InNozzle";
import { WhatHappened } from "./WhatHappened";

/** Seconds of the print a second at which a rehearsal begins. */
const usual = 500;

/** The print run through on a simulated machine: it grows, asks, goes wrong if it is told to, and is judged. */
export function RehearsalPage({ job }: { job: JobView }) {
  const plan = usePlan(job.id).data;
  const view = useRehearsal(job.id);
  const does = useRehearsing(job.id);
  const setLayer = useBench((s) => s.setLayer);
  const revision = plan?.state === "ready" ? plan.revision : undefined;
  const moves = useMoves(job.id, revision, true).data;
  const isReady = moves?.state === "ready" && !moves.problem && moves.revision === revision;
  const data = useMoveData(job.id, revision, isReady).data;
  const rehearsal = view.data;
  const layer = rehearsal?.layer;
  useEffect(() => {
    if (layer !== undefined) setLayer(layer);
  }, [layer, setLayer]);
  const isNone = view.isError && !rehearsal;
  const isOld = rehearsal?.is_outdated ?? false;
  useEffect(() => {
    // Whoever comes here wants to see it: what was begun for another state of the job is begun anew.
    if (isReady && (isNone || isOld)) void does.begin(usual);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isReady, isNone, isOld]);
  if (moves?.problem) {
    return (
      <div className="flex h-full flex-col items-center justify-center gap-3" role="alert">
        <p className="max-w-[52ch] text-center">
          {moves.problem.message}. {moves.problem.mend}
        </p>
        <Button onClick={() => go(`/jobs/${job.id}/handover`)}>Back to Handover</Button>
      </div>
    );
  }
  if (!rehearsal || isOld || !data) {
    return <Waiting what={isReady ? "Setting the stage" : "Making the moves"} done={isReady ? undefined : moves?.done} />;
  }
  // At the pace that was chosen, or standing still, so that troubles can be told before anything moves.
  const again = () => void does.begin(rehearsal.speed ?? usual);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_250px_394px] grid-rows-[150px_minmax(0,1fr)]" data-state={rehearsal.status.is}>
      <section className="col-span-3 border-b border-line bg-sheet" aria-label="Swap score">
        <SwapScore job={job} plan={plan} height={149} />
      </section>
      <section className="relative min-h-0 min-w-0 bg-bench" aria-label="The print as it grows">
        <div className="absolute inset-0">
          <GrowingPrint job={job} data={data} rehearsal={rehearsal} />
        </div>
        <h2 className="pointer-events-none absolute left-4 top-3 text-[15px]">
          Rehearsal <span className="font-normal text-soft">of {job.printer.name}</span>
        </h2>
        <div className="absolute right-4 top-2.5 flex gap-2">
          <Button onClick={again}>From the start</Button>
          <Button onClick={() => go(`/jobs/${job.id}/handover`)}>Back to Handover</Button>
        </div>
        <Clock rehearsal={rehearsal} pace={does.pace} isGoing={isGoing(rehearsal)} />
      </section>
      <InNozzle rehearsal={rehearsal} into={laidNow(data, rehearsal)} trouble={does.trouble} />
      <WhatHappened job={job} rehearsal={rehearsal} answer={does.answer} />
    </div>
  );
}
