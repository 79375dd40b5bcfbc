import { useCallback, useRef, useState } from "react";
import { api, Refused, stageFile } from "../../api/client";
import type { Problem } from "../../api/generated/Problem";
import type { StagedState } from "../../api/generated/StagedState";

/** A file on its way in, as the list shows it. */
export interface Arriving {
  file: string;
  /** Number the server gave it; none while it is being sent. */
  id: number | null;
  state: { state: "sending"; done: number } | StagedState;
}

const pause = (ms: number) => new Promise((go) => setTimeout(go, ms));

const asProblem = (e: unknown): Problem =>
  e instanceof Refused ? e.problem : { code: "fault", message: String(e), where: null, mend: "Try again." };

/**
 * Sends files and waits until each is open or refused. Materials and pictures go first, so that the models they belong
 * to find them.
 */
export function useArrival() {
  const [files, setFiles] = useState<Arriving[]>([]);
  const run = useRef(0);
  const stops = useRef<(() => void)[]>([]);

  const stop = useCallback(() => {
    run.current++;
    stops.current.forEach((end) => end());
    stops.current = [];
    setFiles((all) => {
      for (const f of all) if (f.id !== null) void api.unstage(f.id).catch(() => {});
      return [];
    });
  }, []);

  /** Resolves to the files when all are settled, or to nothing when stopped. */
  const take = useCallback(async (chosen: File[]): Promise<Arriving[] | null> => {
    const mine = ++run.current;
    const ends = (f: File, endings: string[]) => endings.some((e) => f.name.toLowerCase().endsWith(e));
    const takesMore = (f: File) => ends(f, [".obj", ".ply"]);
    // With a model that names pictures, pictures are its surface and no drawings.
    const endings = [".mtl", ...(chosen.some(takesMore) ? [".png", ".jpg", ".jpeg", ".webp"] : [])];
    const isBeside = (f: File) => ends(f, endings);
    const sorted = [...chosen].sort((a, b) => Number(isBeside(b)) - Number(isBeside(a)));
    const all: Arriving[] = sorted.map((f) => ({ file: f.name, id: null, state: { state: "sending", done: 0 } }));
    const put = (at: number, change: Partial<Arriving>) => {
      const old = all[at];
      if (!old || run.current !== mine) return;
      all[at] = { ...old, ...change };
      setFiles([...all]);
    };
    setFiles([...all]);
    const beside: number[] = [];
    for (const [at, file] of sorted.entries()) {
      const sending = stageFile(
        file,
        takesMore(file) ? beside : [],
        (done) => put(at, { state: { state: "sending", done } }),
        isBeside(file),
      );
      stops.current.push(sending.stop);
      try {
        const staged = await sending.done;
        if (run.current !== mine) return null;
        if (isBeside(file)) beside.push(staged.id);
        put(at, { id: staged.id, state: staged.state });
      } catch (e) {
        put(at, { state: { state: "refused", problem: asProblem(e) } });
      }
      if (run.current !== mine) return null;
    }
    const isOpening = (f: Arriving) => f.state.state === "opening";
    while (all.some(isOpening)) {
      for (const [at, f] of all.entries()) {
        if (f.id === null || !isOpening(f)) continue;
        try {
          put(at, { state: (await api.staged(f.id)).state });
        } catch (e) {
          put(at, { state: { state: "refused", problem: asProblem(e) } });
        }
        if (run.current !== mine) return null;
      }
      if (all.some(isOpening)) await pause(60);
    }
    return all;
  }, []);

  /** Forgets the list; the server has taken the files. */
  const clear = useCallback(() => {
    run.current++;
    setFiles([]);
  }, []);
  return { files, take, stop, clear };
}

/** A drawing, which goes to a page of its own. */
export const drawingOf = (files: Arriving[]) => files.find((f) => f.id !== null && f.state.state === "drawing")?.id ?? null;

export const isReady = (f: Arriving) => f.id !== null && f.state.state === "ready";
