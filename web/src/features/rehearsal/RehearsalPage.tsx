import { useEffect, type ReactNode } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { MoveData } from "../../api/moveData";
import { useMoveData, useMoves } from "../../api/moves";
import { usePlan } from "../../api/queries";
import { isGoing, useRehearsal, useRehearsing } from "../../api/rehearsal";
import { useKeptFile } from "../../api/sliced";
import { useBench } from "../../state/bench";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { Trouble, Waiting } from "../../ui/states";
import { SwapScore } from "../score/SwapScore";
import { FileScore } from "../sliced/FileScore";
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
  const revision = plan?.state === "ready" ? plan.revision : undefined;
  const moves = useMoves(job.id, revision, true).data;
  const isReady = moves?.state === "ready" && !moves.problem && moves.revision === revision;
  const data = useMoveData(job.id, revision, isReady).data;
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
  if (!isReady || !data) return <Waiting what="Making the moves" done={moves?.done} />;
  return (
    <Rehearsal
      job={job}
      data={data}
      of={`of ${job.printer.name}`}
      score={<SwapScore job={job} plan={plan} height={149} />}
      back={["Back to Handover", `/jobs/${job.id}/handover`]}
    />
  );
}

/** The same of a print file from elsewhere. */
export function FileRehearsalPage({ job, file }: { job: JobView; file: number }) {
  const { view, kept, moves } = useKeptFile(job, file);
  const layer = useBench((s) => s.layer);
  const setLayer = useBench((s) => s.setLayer);
  const back = `/jobs/${job.id}/sliced/${file}`;
  if (view.error && !kept) {
    return (
      <Trouble error={view.error} retry={() => void view.refetch()}>
        <Button onClick={() => go(`/jobs/${job.id}/handover`)}>To Handover</Button>
      </Trouble>
    );
  }
  if (!kept || !moves) return <Waiting what="Reading the print file" />;
  return (
    <Rehearsal
      job={job}
      data={moves}
      file={file}
      of={`of ${kept.file.name}`}
      score={<FileScore job={job} report={kept.report} layer={layer} setLayer={setLayer} height={149} />}
      back={["Back to the file", back]}
    />
  );
}

interface Rehearsed {
  job: JobView;
  /** Its moves. */
  data: MoveData;
  /** The print file from elsewhere that it is of. */
  file?: number;
  of: string;
  score: ReactNode;
  /** Where it came from: words and path. */
  back: [string, string];
}

function Rehearsal({ job, data, file, of, score, back }: Rehearsed) {
  const view = useRehearsal(job.id);
  const does = useRehearsing(job.id);
  const setLayer = useBench((s) => s.setLayer);
  const rehearsal = view.data;
  const layer = rehearsal?.layer;
  useEffect(() => {
    if (layer !== undefined) setLayer(layer);
  }, [layer, setLayer]);
  const isNone = view.isError && !rehearsal;
  const isOther = rehearsal ? rehearsal.is_outdated || rehearsal.file !== (file ?? null) : false;
  useEffect(() => {
    // Whoever comes here wants to see it: what was begun for another file, or another state of the job, is begun anew.
    if (isNone || isOther) void does.begin(usual, file);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [isNone, isOther, file]);
  if (!rehearsal || isOther) return <Waiting what="Setting the stage" />;
  // At the pace that was chosen, or standing still, so that troubles can be told before anything moves.
  const again = () => void does.begin(rehearsal.speed ?? usual, file);
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_250px_394px] grid-rows-[150px_minmax(0,1fr)]" data-state={rehearsal.status.is}>
      <section className="col-span-3 border-b border-line bg-sheet" aria-label="Swap score">
        {score}
      </section>
      <section className="relative min-h-0 min-w-0 bg-bench" aria-label="The print as it grows">
        <div className="absolute inset-0">
          <GrowingPrint job={job} data={data} rehearsal={rehearsal} />
        </div>
        <div className="absolute inset-x-4 top-2.5 flex items-center gap-2">
          <h2 className="pointer-events-none mr-auto min-w-0 truncate text-[15px]">
            Rehearsal <span className="font-normal text-soft">{of}</span>
          </h2>
          <Button className="shrink-0" onClick={again}>
            From the start
          </Button>
          <Button className="shrink-0" onClick={() => go(back[1])}>
            {back[0]}
          </Button>
        </div>
        <Clock rehearsal={rehearsal} pace={does.pace} isGoing={isGoing(rehearsal)} />
      </section>
      <InNozzle rehearsal={rehearsal} into={laidNow(data, rehearsal)} trouble={does.trouble} />
      <WhatHappened job={job} rehearsal={rehearsal} answer={does.answer} />
    </div>
  );
}
