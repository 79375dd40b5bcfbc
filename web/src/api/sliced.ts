import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNotice } from "../state/notice";
import { api, Refused } from "./client";
import type { JobView } from "./generated/JobView";
import type { RewriteFiles } from "./generated/RewriteFiles";
import type { RewrittenView } from "./generated/RewrittenView";
import type { SayOfFile } from "./generated/SayOfFile";
import { readMoves } from "./moveData";
import { usePlan } from "./queries";

/** Print files from elsewhere that are kept with a job. */
export const useKeptFiles = (job: number) =>
  useQuery({ queryKey: ["sliced", job], queryFn: () => api.keptFiles(job), placeholderData: (old) => old });

/** One of them, read on the job's printer anew when the job or what its plan is changed, and its moves. */
export function useKeptFile(job: JobView, file: number) {
  const plan = usePlan(job.id).data;
  const against = `${job.revision} ${plan?.state}`;
  const view = useQuery({
    queryKey: ["sliced", job.id, file, against],
    queryFn: () => api.keptFile(job.id, file),
    placeholderData: (old) => old,
    retry: false,
    gcTime: 10_000,
  });
  const kept = view.data?.file.id === file ? view.data : undefined;
  // Other moves, when other slots stand for its tools.
  const said = kept && `${against} ${JSON.stringify([kept.file.tools, kept.file.turns])}`;
  const moves = useQuery({
    queryKey: ["sliced-moves", job.id, file, said],
    queryFn: async () => readMoves(await api.keptMoves(job.id, file)),
    enabled: said !== undefined,
    retry: false,
    gcTime: 10_000,
    staleTime: Infinity,
    structuralSharing: false,
    placeholderData: (old) => old,
  });
  return { plan, view, kept, moves: moves.data };
}

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
