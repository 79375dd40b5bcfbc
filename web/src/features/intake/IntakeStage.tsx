import { lazy, Suspense, useEffect, useRef } from "react";
import type { Arrangement } from "../../api/generated/Arrangement";
import type { JobView } from "../../api/generated/JobView";
import { useChanges, usePlan } from "../../api/queries";
import { useKeeping } from "../../api/sliced";
import { useIntake, within } from "../../state/intake";
import { go } from "../../state/route";
import { ArrivalDialog } from "../arrival/ArrivalDialog";
import { DropZone, endings } from "../arrival/DropZone";
import { drawingOf, isReady, useArrival, type Arriving } from "../arrival/useArrival";
import { Cautions } from "../plan/Cautions";
import { useLatestPlan } from "../score/useLatestPlan";
import { LostEdits } from "./LostEdits";
import { ModelCard } from "./ModelCard";
import { ModelTree } from "./ModelTree";
import { PartCard } from "./PartCard";
import { SetCard } from "./SetCard";
import { BenchWaiting } from "../../ui/states";

// The 3D library comes with it; everything around it is on show before.
const IntakeBench = lazy(() => import("./IntakeBench").then((m) => ({ default: m.IntakeBench })));

/** The models of a job with their report cards on the left, all of them on the bed on the right. */
export function IntakeStage({ job }: { job: JobView }) {
  const selection = within(
    useIntake((s) => s.selection),
    job,
  );
  useEffect(
    () => () => {
      useIntake.setState({ defect: null, tool: "choose" });
    },
    [],
  );
  const { add } = useChanges(job.id);
  const { keep } = useKeeping(job.id);
  const latest = useLatestPlan(usePlan(job.id).data);
  const arrival = useArrival();
  const picker = useRef<HTMLInputElement>(null);
  const addReady = (files: Arriving[], arrangement: Arrangement) => {
    add({ staged: files.filter(isReady).flatMap((f) => f.id ?? []), arrangement });
    arrival.clear();
  };
  const draw = (staged: number) => {
    arrival.clear();
    go(`/jobs/${job.id}/drawings/${staged}`);
  };
  const take = async (chosen: File[]) => {
    const files = chosen.length > 0 ? await arrival.take(chosen) : null;
    const isPrint = (f: Arriving) => f.state.state === "refused" && f.state.problem.code === "print-file";
    const [print] = chosen;
    if (print && chosen.length === 1 && files?.every(isPrint)) {
      arrival.clear();
      const kept = await keep(print);
      if (kept) go(`/jobs/${job.id}/sliced/${kept.id}`);
      return;
    }
    const drawing = files ? drawingOf(files) : null;
    if (drawing !== null && files?.length === 1) return draw(drawing);
    const isPlain = files?.every((f) => f.state.state !== "refused");
    if (files && drawing === null && isPlain && files.filter(isReady).length === 1) addReady(files, "together");
  };
  const model = selection.of === "everything" ? undefined : job.models[selection.model];
  return (
    <DropZone what="Drop to add it to this job" onFiles={(files) => void take(files)}>
      <div className="grid h-full grid-cols-[380px_minmax(0,1fr)]">
        <aside className="flex min-h-0 flex-col border-r border-line" aria-label="Models">
          <div className="flex items-baseline justify-between px-5 pb-1 pt-3">
            <h2 className="heading">{job.models.length === 1 ? "1 model" : `${job.models.length} models`}</h2>
            <button type="button" className="font-semibold text-plum hover:underline" onClick={() => picker.current?.click()}>
              Add files
            </button>
          </div>
          <input
            ref={picker}
            type="file"
            accept={endings}
            multiple
            hidden
            aria-label="Files to add"
            onChange={(e) => {
              void take([...(e.target.files ?? [])]);
              e.target.value = "";
            }}
          />
          <ModelTree job={job} selection={selection} />
          {latest && <Cautions job={job} cautions={latest.plan.cautions.filter((c) => c.is_of_model)} />}
          <div className="min-h-0 flex-1 overflow-y-auto border-t border-line">
            <LostEdits job={job} />
            {selection.of === "everything" && <SetCard job={job} />}
            {selection.of === "model" && model && <ModelCard key={model.name} job={job} index={selection.model} model={model} />}
            {selection.of === "part" && model && <PartCard job={job} model={model} index={selection.model} part={selection.part} />}
          </div>
        </aside>
        <Suspense fallback={<BenchWaiting />}>
          <IntakeBench job={job} selection={selection} />
        </Suspense>
      </div>
      <ArrivalDialog files={arrival.files} isAdding onDraw={draw} onStop={arrival.stop} onChoose={(how) => addReady(arrival.files, how)} />
    </DropZone>
  );
}
