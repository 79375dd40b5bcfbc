import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNotice } from "../state/notice";
import { take } from "./answers";
import { api, Refused } from "./client";
import type { AboutRun } from "./generated/AboutRun";
import type { RunView } from "./generated/RunView";

const key = (id: number) => ["runs", id];

/** The prints of a job that were noted, the latest first. */
export const useRuns = (id: number) => useQuery({ queryKey: key(id), queryFn: () => api.runs(id) });

/** What is said of them afterwards. */
export function useAfter(id: number) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const done = async (asked: Promise<RunView[]>) => {
    try {
      await take(queries, key(id), await asked);
      return true;
    } catch (e) {
      if (e instanceof Refused) show(e.problem);
      return false;
    }
  };
  return {
    say: (run: number, about: AboutRun) => done(api.sayOfRun(id, run, about)),
    setPhoto: (run: number, photo: File) => done(api.setPhoto(id, run, photo)),
    noPhoto: (run: number) => done(api.noPhoto(id, run)),
  };
}
