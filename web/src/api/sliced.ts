import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNotice } from "../state/notice";
import { api, Refused } from "./client";
import type { RewriteFiles } from "./generated/RewriteFiles";
import type { RewrittenView } from "./generated/RewrittenView";
import type { SayOfFile } from "./generated/SayOfFile";
import { readMoves } from "./moveData";

/** Print files from elsewhere that are kept with a job. */
export const useKeptFiles = (job: number) =>
  useQuery({ queryKey: ["sliced", job], queryFn: () => api.keptFiles(job), placeholderData: (old) => old });

/** One of them, read on the job's printer. `against` changes when the job, or what its plan is, did. */
export const useKeptFile = (job: number, file: number, against: string) =>
  useQuery({
    queryKey: ["sliced", job, file, against],
    queryFn: () => api.keptFile(job, file),
    placeholderData: (old) => old,
    retry: false,
    gcTime: 10_000,
  });

/** Its moves. `said` changes when other slots stand for its tools. */
export const useKeptMoves = (job: number, file: number, said: string | undefined) =>
  useQuery({
    queryKey: ["sliced-moves", job, file, said],
    queryFn: async () => readMoves(await api.keptMoves(job, file)),
    enabled: said !== undefined,
    retry: false,
    gcTime: 10_000,
    staleTime: Infinity,
    structuralSharing: false,
    placeholderData: (old) => old,
  });

/** What can be done with them; each says what was wrong, and returns nothing then. */
export function useKeeping(job: number) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const done = async <T>(asked: Promise<T>): Promise<T | null> => {
    try {
      const answer = await asked;
      await queries.invalidateQueries({ queryKey: ["sliced", job] });
      return answer;
    } catch (e) {
      if (e instanceof Refused) show(e.problem);
      return null;
    }
  };
  return {
    keep: (file: File) => done(api.keepFile(job, file)),
    say: (file: number, said: SayOfFile) => done(api.sayOfFile(job, file, said)),
    forget: (file: number) => done(api.forgetFile(job, file)),
    rewrite: (wanted: RewriteFiles): Promise<RewrittenView | null> => done(api.rewriteFiles(job, wanted)),
  };
}
