import type { JobView } from "../../api/generated/JobView";
import type { PlanView } from "../../api/generated/PlanView";
import { api } from "../../api/client";
import { Button } from "../../ui/Button";
import { Bar } from "../../ui/states";

/** How far the planning is, or why there is no plan; nothing once there is one. */
export function PlanState({
  job,
  plan,
  isOldShown,
  className = "",
}: {
  job: JobView;
  plan: PlanView | undefined;
  /** Whether the last plan that worked is on show meanwhile. */
  isOldShown: boolean;
  className?: string;
}) {
  if (!plan || plan.state === "ready") return null;
  return (
    <div className={`flex flex-wrap items-center gap-2 text-soft ${className}`} role="status">
      {plan.state === "working" && (
        <>
          <span className="w-full">{isOldShown ? "Out of date: looking at the layers" : "Looking at the layers"}</span>
          <Bar done={plan.done} />
          <Button kind="link" className="text-xs" onClick={() => void api.stopPlan(job.id)}>
            Stop
          </Button>
        </>
      )}
      {plan.state === "stopped" && (
        <>
          <span>{isOldShown ? "Out of date: stopped." : "Stopped."}</span>
          <Button kind="link" onClick={() => void api.startPlan(job.id)}>
            Work it out
          </Button>
        </>
      )}
      {plan.state === "failed" && (
        <p role="alert">
          <span className="text-wrong">
            {plan.problem.message}. {plan.problem.mend}
          </span>
          {isOldShown && " What is shown is the last plan that worked."}
        </p>
      )}
    </div>
  );
}
