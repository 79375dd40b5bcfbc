import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNotice } from "../state/notice";
import { take } from "./answers";
import { api, Refused } from "./client";
import type { Answer } from "./generated/Answer";
import type { RehearsalView } from "./generated/RehearsalView";
import type { TroubleKind } from "./generated/TroubleKind";

const key = (id: number) => ["rehearsal", id];

/** Whether a machine goes on by itself. */
export const isGoing = (view: RehearsalView | undefined) => view?.status.is === "running" && view.speed !== 0;

/** The rehearsal of a job; looked at again and again while it goes on. None is an error. */
export const useRehearsal = (id: number) =>
  useQuery({
    queryKey: key(id),
    queryFn: () => api.rehearsal(id),
    retry: false,
    staleTime: 0,
    refetchInterval: (q) => (isGoing(q.state.data) ? 200 : false),
  });

/** What can be done with a rehearsal. */
export function useRehearsing(id: number) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const done = async (asked: Promise<RehearsalView>) => {
    try {
      const view = await asked;
      await take(queries, key(id), view);
      if (view.status.is === "done") void queries.invalidateQueries({ queryKey: ["release", id] });
    } catch (e) {
      if (e instanceof Refused) show(e.problem);
    }
  };
  return {
    /** `file`: a print file from elsewhere instead of the job's own. */
    begin: (speed: number | null, file?: number) => done(api.beginRehearsal(id, { speed, troubles: [], file: file ?? null })),
    answer: (answer: Answer) => done(api.answerRehearsal(id, answer)),
    pace: (speed: number | null) => done(api.paceRehearsal(id, speed)),
    trouble: (kind: TroubleKind) => done(api.troubleRehearsal(id, kind)),
  };
}
