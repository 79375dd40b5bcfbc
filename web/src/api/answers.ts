import type { QueryClient, QueryKey } from "@tanstack/react-query";
import type { JobView } from "./generated/JobView";

/**
 * Takes what the server answered to a change as what is known from now on. Whatever was asked before the change may still be on its
 * way and says how things stood before: it is not waited for.
 */
export async function take<T>(queries: QueryClient, queryKey: QueryKey, answer: T) {
  await queries.cancelQueries({ queryKey });
  queries.setQueriesData({ queryKey }, answer);
}

/** The same of a job: of two changes that were under way together, the answer to the earlier may come later and is old by then. */
export async function takeJob(queries: QueryClient, job: JobView) {
  const queryKey = ["job", job.id];
  const known = queries.getQueryData<JobView>(queryKey);
  if (known && known.revision > job.revision) return;
  await take(queries, queryKey, job);
}
