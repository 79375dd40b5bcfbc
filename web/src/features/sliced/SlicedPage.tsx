import type { JobView } from "../../api/generated/JobView";
import { useKeptFile } from "../../api/sliced";
import { useBench } from "../../state/bench";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { Trouble, Waiting } from "../../ui/states";
import { BeadsPane } from "../beads/BeadsPane";
import { LayerTrack } from "../beads/LayerTrack";
import { FileSide } from "./FileSide";
import { FileScore } from "./FileScore";

/** A print file from elsewhere on the job's printer: its score, its beads, what is to be said of it, and what can be made of it. */
export function SlicedPage({ job, file }: { job: JobView; file: number }) {
  const { plan, view, kept, moves } = useKeptFile(job, file);
  const layers = kept?.report.layers ?? [];
  const layer = Math.min(
    useBench((s) => s.layer),
    Math.max(layers.length - 1, 0),
  );
  const setLayer = useBench((s) => s.setLayer);
  const here = layers[layer];
  if (view.error && !kept) {
    return (
      <Trouble error={view.error} retry={() => void view.refetch()}>
        <Button onClick={() => go(`/jobs/${job.id}/handover`)}>To Handover</Button>
      </Trouble>
    );
  }
  if (!kept) return <Waiting what="Reading the print file" />;
  const height = kept.report.slots.length > 4 ? 190 : 150;
  return (
    <div className="grid h-full grid-cols-[minmax(0,1fr)_410px]" style={{ gridTemplateRows: `${height}px minmax(0,1fr)` }}>
      <section className="col-span-2 border-b border-line bg-sheet" aria-label="Score of the file">
        <FileScore job={job} report={kept.report} layer={layer} setLayer={setLayer} height={height - 1} />
      </section>
      <section className="flex min-h-0 min-w-0 flex-col bg-bench" aria-label="Beads of the file">
        <div className="min-h-0 flex-1">
          {moves && here ? (
            <BeadsPane job={job} data={moves} layer={layer} topMm={here.z1_mm} isStale={view.isFetching} hasKinds={false} />
          ) : (
            <Waiting what={here ? "Drawing the moves" : "Nothing is laid in this file"} />
          )}
        </div>
        {layers.length > 0 && <LayerTrack layer={layer} count={layers.length} topMm={here?.z1_mm ?? 0} digits={2} onChange={setLayer} />}
      </section>
      <FileSide job={job} view={kept} layer={layer} hasPlan={plan?.state === "ready" && plan.plan.layers.length > 0} />
    </div>
  );
}
