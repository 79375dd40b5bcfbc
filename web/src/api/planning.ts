import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useNotice } from "../state/notice";
import { api, Refused } from "./client";
import type { Measured } from "./generated/Measured";
import type { SearchState } from "./generated/SearchState";
import { keys } from "./queries";

/** Asks again by itself while something is being worked out. */
const whileWorking = (state: SearchState | undefined) => (state === "working" ? 150 : state === "waiting" ? 300 : false);

/** The bill of the present plan, every figure opened; asked for once the plan is there. */
export const useSheet = (id: number, revision: number | undefined) =>
  useQuery({
    queryKey: ["sheet", id, revision],
    queryFn: () => api.sheet(id),
    placeholderData: (old) => old,
    enabled: revision !== undefined,
    retry: false,
    gcTime: 10_000,
  });

/** Places where a small change saves something. */
export const useSnags = (id: number, revision: number) =>
  useQuery({
    queryKey: ["snags", id, revision],
    queryFn: () => api.snags(id, false),
    placeholderData: (old) => old,
    gcTime: 10_000,
    refetchInterval: (q) => whileWorking(q.state.data?.state),
  });

/** Facets of one snag, as runs for each model. */
export const useSnagFacets = (id: number, revision: number, snag: number | null) =>
  useQuery({
    queryKey: ["snag", id, revision, snag],
    queryFn: () => api.snagFacets(id, snag ?? 0),
    enabled: snag !== null,
    retry: false,
    gcTime: 10_000,
  });

/** The ways to run a job, filling in row by row. */
export const useWays = (id: number, revision: number) =>
  useQuery({
    queryKey: ["ways", id, revision],
    queryFn: () => api.ways(id, false),
    placeholderData: (old) => old,
    gcTime: 10_000,
    refetchInterval: (q) => whileWorking(q.state.data?.state),
  });

/** Tries what was stopped again, and fits printers to what was measured. */
export function usePlanning(id: number) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const fail = (e: Error) => {
    if (e instanceof Refused) show(e.problem);
  };
  const again = async (of: "snags" | "ways") => {
    await api[of](id, true);
    await queries.invalidateQueries({ queryKey: [of, id] });
  };
  const changed = () => {
    void queries.invalidateQueries({ queryKey: keys.job(id) });
    void queries.invalidateQueries({ queryKey: keys.plan(id) });
  };
  /** Only looks, so a refusal is shown where it is asked for. */
  const fit = useMutation({ mutationFn: (rinses: Measured[]) => api.calibrate(id, rinses, false) });
  const keepFit = useMutation({ mutationFn: (rinses: Measured[]) => api.calibrate(id, rinses, true), onSuccess: changed, onError: fail });
  const knownTime = useMutation({ mutationFn: (seconds: number) => api.knownTime(id, seconds), onSuccess: changed, onError: fail });
  return { again, fit, keepFit, knownTime };
}
