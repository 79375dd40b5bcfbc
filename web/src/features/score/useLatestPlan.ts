import { useState } from "react";
import type { PlanView } from "../../api/generated/PlanView";

type Ready = Extract<PlanView, { state: "ready" }>;

/** The newest finished plan: kept on show, marked stale, while the next is worked out. */
export function useLatestPlan(plan: PlanView | undefined): Ready | null {
  const [latest, setLatest] = useState<Ready | null>(null);
  const ready = plan?.state === "ready" ? plan : null;
  if (ready && ready !== latest) setLatest(ready);
  return ready ?? latest;
}
