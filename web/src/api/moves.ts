import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNotice } from "../state/notice";
import { takeJob } from "./answers";
import { api, Refused } from "./client";
import type { JobView } from "./generated/JobView";
import type { PlanView } from "./generated/PlanView";
import type { SetPrinting } from "./generated/SetPrinting";
import { readMoves } from "./moveData";
import { keys } from "./queries";

/** How far the moves of the print are, and what they come to; asks again by itself while they are being made. */
export function useMoves(id: number, revision: number | undefined, isOn: boolean) {
  const queries = useQueryClient();
  return useQuery({
    queryKey: ["moves", id, revision],
    queryFn: async () => {
      const view = await api.moves(id, false);
      const plan = queries.getQueryData<PlanView>(keys.plan(id));
      // From now on times are theirs.
      if (view.state === "ready" && plan?.state === "ready" && plan.moves_s === null) {
        void queries.invalidateQueries({ queryKey: keys.plan(id) });
        void queries.invalidateQueries({ queryKey: ["ways", id] });
      }
      return view;
    },
    enabled: isOn && revision !== undefined,
    placeholderData: (old) => old,
    gcTime: 10_000,
    refetchInterval: (q) => {
      const state = q.state.data?.state;
      return state === "working" ? 200 : state === "waiting" ? 300 : false;
    },
  });
}

/** All moves, once they are made. */
export const useMoveData = (id: number, revision: number | undefined, isReady: boolean) =>
  useQuery({
    queryKey: ["move-data", id, revision],
    queryFn: async () => readMoves(await api.moveBytes(id)),
    enabled: isReady && revision !== undefined,
    retry: false,
    gcTime: 10_000,
    staleTime: Infinity,
    structuralSharing: false,
  });

/** How the job is printed, setting by setting. */
export const usePrintSettings = (id: number, revision: number, isOn: boolean) =>
  useQuery({
    queryKey: ["print-settings", id, revision],
    queryFn: () => api.printSettings(id),
    enabled: isOn,
    placeholderData: (old) => old,
    gcTime: 10_000,
  });

export function usePrinting(id: number) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const set = useMutation({
    mutationFn: (to: SetPrinting) => api.setPrinting(id, to),
    onSuccess: async (job: JobView) => {
      await takeJob(queries, job);
      void queries.invalidateQueries({ queryKey: keys.plan(id) });
    },
    onError: (e: Error) => {
      if (e instanceof Refused) show(e.problem);
    },
  });
  const again = async () => {
    await api.moves(id, true);
    await queries.invalidateQueries({ queryKey: ["moves", id] });
  };
  const stop = async () => {
    await api.stopMoves(id);
    await queries.invalidateQueries({ queryKey: ["moves", id] });
  };
  return { set, again, stop };
}
