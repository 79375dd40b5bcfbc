import { lazy, Suspense, useEffect } from "react";
import { api } from "../../api/client";
import { useJob, useJobEvents } from "../../api/queries";
import { useBench } from "../../state/bench";
import { tellEditing, useEditing } from "../../state/editing";
import { useIntake } from "../../state/intake";
import { go, stageNames, type Stage } from "../../state/route";
import { Button } from "../../ui/Button";
import { StageFence } from "../../ui/StageFence";
import { Trouble, Waiting } from "../../ui/states";
import { Header } from "./Header";
import { Palette } from "./Palette";
import { useJobKeys } from "./useJobKeys";

// Each stage is fetched when it is first opened: the shelf and the tables need no 3D.
const FileRehearsalPage = lazy(() => import("../rehearsal/RehearsalPage").then((m) => ({ default: m.FileRehearsalPage })));
const SlicedPage = lazy(() => import("../sliced/SlicedPage").then((m) => ({ default: m.SlicedPage })));
const views = {
  intake: lazy(() => import("../intake/IntakeStage").then((m) => ({ default: m.IntakeStage }))),
  colour: lazy(() => import("../colour/ColourStage").then((m) => ({ default: m.ColourStage }))),
  load: lazy(() => import("../load/LoadStage").then((m) => ({ default: m.LoadStage }))),
  plan: lazy(() => import("../plan/PlanStage").then((m) => ({ default: m.PlanStage }))),
  rehearsal: lazy(() => import("../rehearsal/RehearsalPage").then((m) => ({ default: m.RehearsalPage }))),
  handover: lazy(() => import("../handover/HandoverStage").then((m) => ({ default: m.HandoverStage }))),
};

/** A job that is being opened: one of many edits may take a while, and can be stopped. */
function Opening({ id }: { id: number }) {
  const done = useEditing((s) => s.done);
  useEffect(() => () => tellEditing(null), []);
  return (
    <Waiting what="Opening the job" done={done ?? undefined}>
      {done !== null && <Button onClick={() => void api.stopEdit(id)}>Stop</Button>}
    </Waiting>
  );
}

/** One job: the header with its stages, and the stage that is open. */
export function JobPage({
  id,
  stage,
  isRehearsal,
  file,
}: {
  id: number;
  stage: Stage;
  isRehearsal: boolean;
  /** A print file from elsewhere that is open. */
  file: number | undefined;
}) {
  const job = useJob(id);
  const region = useBench((s) => s.region);
  const setRegion = useBench((s) => s.setRegion);
  useJobEvents(id);
  useJobKeys(id, job.data);
  // Another job begins with its first model, and with nothing of the last one in hand.
  useEffect(() => {
    useIntake.setState({ selection: { of: "model", model: 0 } });
    useBench.setState({
      chosen: [],
      hidden: [],
      pointed: null,
      pair: null,
      points: [],
      alone: null,
      stray: null,
      snag: null,
      layer: 0,
      region: "base",
      isErasing: false,
    });
  }, [id]);
  const regions = job.data?.regions;
  useEffect(() => {
    if (regions && !regions.some((r) => r.key === region)) setRegion(regions[regions.length - 1]?.key ?? "base");
  }, [regions, region, setRegion]);
  useEffect(() => {
    document.title = job.data ? `${job.data.name} – Varichrom` : "Varichrom";
  }, [job.data]);

  if (job.isPending) return <Opening id={id} />;
  if (job.error) {
    return (
      <Trouble error={job.error} retry={() => void job.refetch()}>
        <Button onClick={() => go("/")}>To the shelf</Button>
      </Trouble>
    );
  }
  const View = views[isRehearsal ? "rehearsal" : stage];
  const FileView = isRehearsal ? FileRehearsalPage : SlicedPage;
  const shown = isRehearsal ? "rehearsal" : stage;
  const page = file === undefined ? shown : `file ${file} ${shown}`;
  return (
    <div className="flex h-full flex-col">
      <Header job={job.data} stage={stage} />
      <main className="min-h-0 flex-1">
        <h1 className="sr-only">
          {job.data.name}: {stageNames[stage]}
        </h1>
        <StageFence key={page} what={isRehearsal ? "Rehearsal" : file !== undefined ? "The print file" : stageNames[stage]}>
          <Suspense fallback={<Waiting what={`Opening ${stageNames[stage]}`} />}>
            {file === undefined ? <View job={job.data} /> : <FileView job={job.data} file={file} />}
          </Suspense>
        </StageFence>
      </main>
      <Palette job={job.data} />
    </div>
  );
}
