import { useKeeping } from "../../api/sliced";
import { go } from "../../state/route";

/** Keeps print files with a job; one alone is opened. */
export function useTakePrints(job: number) {
  const { keep } = useKeeping(job);
  return async (chosen: File[]) => {
    let last: number | null = null;
    for (const file of chosen) last = (await keep(file))?.id ?? last;
    if (chosen.length === 1 && last !== null) go(`/jobs/${job}/sliced/${last}`);
  };
}
