import type { JobView } from "../../api/generated/JobView";
import { useKeptFiles } from "../../api/sliced";
import { go } from "../../state/route";
import { Button } from "../../ui/Button";
import { counted } from "../../ui/format";

/** Stands on the bench of a job that has no model. */
export function NoModel({ job }: { job: JobView }) {
  const files = useKeptFiles(job.id).data ?? [];
  const [first] = files;
  return (
    <div className="flex h-full flex-col items-center justify-center gap-2 text-center">
      <p className="font-semibold">No model stands here yet</p>
      <p className="text-soft">Add files in Intake{first ? `, or look at ${counted(files.length, "print file")} in Handover` : ""}.</p>
      {first && <Button onClick={() => go(`/jobs/${job.id}/sliced/${first.id}`)}>Open {first.name}</Button>}
    </div>
  );
}
