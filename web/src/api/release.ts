import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNotice } from "../state/notice";
import { api, Refused } from "./client";
import type { Said } from "./generated/Said";

/** What stands before the print of a job as it is. `made` changes when moves, plan or printer's word did. */
export const useRelease = (id: number, revision: number, made: string) =>
  useQuery({
    queryKey: ["release", id, revision, made],
    queryFn: () => api.release(id),
    placeholderData: (old) => old,
    gcTime: 10_000,
    staleTime: 0,
  });

/** Jobs that wait to be looked at. */
export const useWaitingJobs = () => useQuery({ queryKey: ["waiting"], queryFn: api.waiting, staleTime: 0 });

/** Says something of a job, and keeps who works here. */
export function useSaying(id: number) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const done = async (asked: Promise<unknown>) => {
    try {
      await asked;
      await queries.invalidateQueries({ queryKey: ["release", id] });
      return true;
    } catch (e) {
      if (e instanceof Refused) show(e.problem);
      return false;
    }
  };
  return {
    say: (revision: number, said: Said) => done(api.say(id, revision, said)),
    setPeople: (names: string[]) => done(api.setPeople({ names })),
  };
}
