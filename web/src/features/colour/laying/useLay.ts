import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { takeJob } from "../../../api/answers";
import { api, Refused } from "../../../api/client";
import { useLatest } from "../../../api/latest";
import type { FlatView } from "../../../api/generated/FlatView";
import type { Problem } from "../../../api/generated/Problem";
import { keys } from "../../../api/queries";
import { useLaying } from "../../../state/laying";
import { askedOf, givenOf } from "./asked";

type Change = Parameters<ReturnType<typeof useLaying.getState>["set"]>[0];

/** How what is in hand comes out flat. */
export function useFlat(): { flat: FlatView | undefined; problem: Problem | null; isReading: boolean } {
  const state = useLaying();
  const given = givenOf(state);
  const read = useQuery({
    queryKey: ["flat", given],
    queryFn: () => api.flat(given as NonNullable<typeof given>),
    enabled: given !== null,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 60_000,
    staleTime: Infinity,
  });
  const problem = read.error instanceof Refused ? read.error.problem : null;
  return { flat: given && !problem ? read.data : undefined, problem, isReading: read.isFetching };
}

/** Lays what is in hand: one call at a time, and of what changes meanwhile only the last. */
export function useLay(job: number) {
  const queries = useQueryClient();
  const [problem, setProblem] = useState<Problem | null>(null);
  const [isBusy, setBusy] = useState(false);
  const laid = async (): Promise<void> => {
    const given = givenOf(useLaying.getState());
    if (!given) return;
    const flat = await queries.fetchQuery({ queryKey: ["flat", given], queryFn: () => api.flat(given), staleTime: Infinity });
    const asked = askedOf(useLaying.getState(), flat.inks.length);
    if (!asked) return;
    const view = await api.lay(job, asked);
    useLaying.getState().set({ step: asked.instead_of ?? view.step });
    setProblem(null);
    await takeJob(queries, view);
    void queries.invalidateQueries({ queryKey: keys.plan(job) });
  };
  const run = useLatest(async () => {
    setBusy(true);
    try {
      await laid().catch((e: unknown) => {
        if (!(e instanceof Refused) || e.problem.code !== "step-unknown") throw e;
        // What was laid has been taken back meanwhile: it is laid as a new step.
        useLaying.getState().set({ step: null });
        return laid();
      });
    } catch (e) {
      if (e instanceof Refused) setProblem(e.problem);
    }
    setBusy(false);
  });
  /** Changes what is in hand, and lays it anew if it lies already. */
  const change = useCallback(
    (to: Change) => {
      useLaying.getState().set(to);
      if (useLaying.getState().put) void run(null);
    },
    [run],
  );
  /** Lays the same once more, mirrored to the other side of its part, as a step of its own. */
  const twin = useCallback(() => {
    const { put, isMirrored, turnDeg } = useLaying.getState();
    if (!put) return;
    const flip = ([x, y, z]: [number, number, number]): [number, number, number] => [-x, y, z];
    const at: [number, number, number] = [2 * put.centre[0] - put.at[0], put.at[1], put.at[2]];
    const view = { facing: flip(put.view.facing), up: flip(put.view.up) };
    change({ put: { ...put, at, normal: flip(put.normal), view }, isMirrored: !isMirrored, turnDeg: -turnDeg, step: null });
  }, [change]);
  return { change, twin, problem, isBusy };
}

export type Lay = ReturnType<typeof useLay>;
