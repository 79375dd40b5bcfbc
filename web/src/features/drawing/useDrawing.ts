import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { take, takeJob } from "../../api/answers";
import { api, Refused } from "../../api/client";
import type { DrawingOptions } from "../../api/generated/DrawingOptions";
import type { DrawingView } from "../../api/generated/DrawingView";
import type { Flatwork } from "../../api/generated/Flatwork";
import type { Problem } from "../../api/generated/Problem";
import { useNotice } from "../../state/notice";
import { go, type DrawingRoute } from "../../state/route";

/** What was said of a drawing, with what was said before. */
interface Said {
  steps: Flatwork[];
  at: number;
}

/** The drawing on the table: how it was read, what becomes of it, and what that comes to. */
export function useDrawing(route: DrawingRoute) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const key = ["drawing", route.staged];
  const read = useQuery({ queryKey: key, queryFn: () => api.drawing(route.staged), retry: false });
  const [said, setSaid] = useState<Said | null>(null);
  const [isBusy, setBusy] = useState(false);
  const own = read.data?.work;
  // What the server says goes where nothing was said yet, or where other colours were read.
  const work = said?.steps[said.at] ?? own;
  const bodies = useQuery({
    queryKey: ["drawn-bodies", route.staged, read.data?.options, work],
    queryFn: () => api.drawnBodies(route.staged, work as Flatwork),
    enabled: work !== undefined && read.data !== undefined && work.inks.length === read.data.inks.length,
    placeholderData: (old) => old,
    retry: false,
    gcTime: 20_000,
  });
  const say = (change: Partial<Flatwork>) => {
    if (!work) return;
    const steps = [...(said?.steps.slice(0, said.at + 1) ?? [work]), { ...work, ...change }];
    setSaid({ steps, at: steps.length - 1 });
  };
  const step = (by: number) => setSaid((s) => (s ? { ...s, at: Math.min(Math.max(s.at + by, 0), s.steps.length - 1) } : s));
  const isFirst = !said || said.at === 0;
  const isLast = !said || said.at === said.steps.length - 1;
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "z" || e.target instanceof HTMLInputElement) return;
      e.preventDefault();
      step(e.shiftKey ? 1 : -1);
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
  const busy = async (does: () => Promise<void>) => {
    setBusy(true);
    try {
      await does();
    } catch (e) {
      if (e instanceof Refused) show(e.problem);
    }
    setBusy(false);
  };
  const readAnew = (change: Partial<DrawingOptions>) =>
    busy(async () => {
      if (!read.data) return;
      const view: DrawingView = await api.readDrawing(route.staged, { ...read.data.options, ...change });
      if (view.inks.length !== read.data.inks.length) setSaid(null);
      await take(queries, key, view);
    });
  const make = () =>
    busy(async () => {
      if (!work) return;
      let made = await api.modelOfDrawing(route.staged, work);
      while (made.state.state === "opening") made = await api.staged(made.id);
      if (made.state.state === "refused") throw new Refused(made.state.problem);
      if (route.job === undefined) {
        const [job] = await api.assemble({ staged: [made.id], arrangement: "together" });
        if (job) go(`/jobs/${job.id}/intake`);
        return;
      }
      const job =
        route.model === undefined
          ? await api.addModels(route.job, { staged: [made.id], arrangement: "together" })
          : await api.revise(route.job, route.model, { staged: made.id });
      await takeJob(queries, job);
      go(`/jobs/${route.job}/intake`);
    });
  const leave = () => {
    void api.unstage(route.staged).catch(() => {});
    go(route.job === undefined ? "/" : `/jobs/${route.job}/intake`);
  };
  const problem: Problem | null = read.error instanceof Refused ? read.error.problem : null;
  const refused: Problem | null = bodies.error instanceof Refused ? bodies.error.problem : null;
  return { view: read.data, problem, work, bodies: bodies.data, refused, say, step, isFirst, isLast, readAnew, make, leave, isBusy };
}

export type OnTable = ReturnType<typeof useDrawing>;
