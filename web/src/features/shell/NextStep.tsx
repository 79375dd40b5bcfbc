import { ChevronRight, X } from "lucide-react";
import { useEffect } from "react";
import type { JobView } from "../../api/generated/JobView";
import { Link } from "../../state/Link";
import { nextStep, useNextSteps } from "../../state/nextSteps";
import { type Stage } from "../../state/route";

/** One next step at a time, in the margin of the header; put away for good by its cross, and brought back by the palette. */
export function NextStep({ job, stage }: { job: JobView; stage: Stage }) {
  const { isPutAway, putAway, see } = useNextSteps();
  const seen = useNextSteps((s) => s.seen[job.id]);
  useEffect(() => see(job.id, stage), [see, job.id, stage]);
  const next = nextStep(job, seen ?? []);
  if (isPutAway || !next) return null;
  const isHere = next.stage === stage;
  return (
    <span role="group" aria-label="Next step" className="flex min-w-0 items-center gap-1 text-[13px] max-lg:hidden">
      {isHere ? (
        <span className="truncate text-soft">Next: {next.words}</span>
      ) : (
        <Link to={`/jobs/${job.id}/${next.stage}`} className="flex min-w-0 items-center font-medium text-plum hover:underline">
          <span className="truncate">Next: {next.words}</span>
          <ChevronRight size={14} className="shrink-0" aria-hidden />
        </Link>
      )}
      <button type="button" aria-label="Show no next steps" className="shrink-0 text-faint hover:text-ink" onClick={() => putAway(true)}>
        <X size={13} aria-hidden />
      </button>
    </span>
  );
}
