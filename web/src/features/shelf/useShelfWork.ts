import { useQueryClient } from "@tanstack/react-query";
import { api, Refused } from "../../api/client";
import type { JobSummary } from "../../api/generated/JobSummary";
import { keys } from "../../api/queries";
import { useNotice } from "../../state/notice";
import { counted } from "../../ui/format";
import { useShelfView } from "./shelfView";

/** What can be done to jobs of the shelf, one or several at once. */
export function useShelfWork() {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const set = useShelfView((s) => s.set);
  const each = async (jobs: JobSummary[], does: (job: JobSummary) => Promise<unknown>) => {
    try {
      for (const job of jobs) await does(job);
    } catch (e) {
      if (!(e instanceof Refused)) throw e;
      show(e.problem);
    } finally {
      set({ chosen: [] });
      await Promise.all([keys.shelf, keys.bin].map((queryKey) => queries.invalidateQueries({ queryKey })));
    }
  };
  const bringBack = (jobs: JobSummary[]) => each(jobs, (j) => api.bringBack(j.id));
  const remove = async (jobs: JobSummary[]) => {
    await each(jobs, (j) => api.remove(j.id));
    const what = jobs.length === 1 ? (jobs[0]?.name ?? "") : counted(jobs.length, "job");
    const told = {
      code: "done-deleted",
      message: `${what} ${jobs.length === 1 ? "lies" : "lie"} in the bin`,
      where: null,
      mend: "For 30 days.",
    };
    show(told, { name: "Bring back", run: () => void bringBack(jobs) });
  };
  return {
    remove,
    bringBack,
    removeForGood: (jobs: JobSummary[]) => each(jobs, (j) => api.remove(j.id, true)),
    duplicate: (jobs: JobSummary[]) => each(jobs, (j) => api.duplicate(j.id)),
    putAway: (jobs: JobSummary[], is_archived: boolean) => each(jobs, (j) => api.shelve(j.id, { tags: j.tags, is_archived })),
    tag: (jobs: JobSummary[], change: (tags: string[]) => string[]) =>
      each(jobs, (j) => api.shelve(j.id, { tags: change(j.tags), is_archived: j.is_archived })),
  };
}

export type ShelfWork = ReturnType<typeof useShelfWork>;
