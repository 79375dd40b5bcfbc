import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { take, takeJob } from "../../api/answers";
import { api, Refused } from "../../api/client";
import type { DrawingOptions } from "../../api/generated/DrawingOptions";
import type { DrawingView } from "../../api/generated/DrawingView";
import type { Flatwork } from "../../api/generated/Flatwork";
import type { Problem } from "../../api/generated/Problem";
import type { Stacking } from "../../api/generated/Stacking";
import { useNotice } from "../../state/notice";
import { go, type DrawingRoute } from "../../state/route";

/** What becomes of a drawing: bodies side by side, or shades that are stacked. */
interface Word {
  work: Flatwork;
  stacking: Stacking | null;
}

/** What was said of a drawing, with what was said before. */
interface Said {
  steps: Word[];
  at: number;
}

/** The drawing on the table: how it was read, what becomes of it, and what that comes to. */
export function useDrawing(route: DrawingRoute) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const key = ["drawing", route.staged];
  const read = useQuery({ queryKey: key, queryFn: () => api.drawing(route.staged), retry: false });
  const [said, setSaid] = useState<Said | null>(null);
  const [isReading, setReading] = useState(false);
  const [isMaking, setMaking] = useState(false);
  const wanted = useRef<DrawingOptions | null>(null);
  const reading = useRef<Promise<void> | null>(null);
  const own = read.data?.work;
  // What the server says goes where nothing was said yet, or where other colours were read.
  const word: Word | undefined = said?.steps[said.at] ?? (own && { work: own, stacking: read.data?.stacking ?? null });
  const work = word?.work;
  const stacking = word?.stacking ?? null;
  const bodies = useQuery({
    queryKey: ["drawn-bodies", route.staged, read.data?.options, work],
    queryFn: () => api.drawnBodies(route.staged, work as Flatwork),
    enabled: stacking === null && work !== undefined && read.data !== undefined && work.inks.length === read.data.inks.length,
    placeholderData: (old) => old,
    retry: false,
    gcTime: 20_000,
  });
  const stacked = useQuery({
    queryKey: ["stacked", route.staged, read.data?.options, stacking],
    queryFn: ({ signal }) => api.stacked(route.staged, stacking as Stacking, signal),
    enabled: stacking !== null && read.data !== undefined,
    placeholderData: (old) => old,
    retry: false,
    gcTime: 20_000,
  });
  const put = (next: Word) => {
    if (!word) return;
    const steps = [...(said?.steps.slice(0, said.at + 1) ?? [word]), next];
    setSaid({ steps, at: steps.length - 1 });
  };
  const say = (change: Partial<Flatwork>) => word && put({ ...word, work: { ...word.work, ...change } });
  /** Stacks its shades so; nothing for bodies side by side. */
  const stack = (to: Stacking | null) => word && put({ ...word, stacking: to });
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
  const during = async (setBusy: (is: boolean) => void, does: () => Promise<void>) => {
    setBusy(true);
    try {
      await does();
    } catch (e) {
      if (e instanceof Refused) show(e.problem);
    }
    setBusy(false);
  };
  /** Reads it again so. One reading at a time, the next with all that was asked since: none overtakes another. */
  const readAnew = (change: Partial<DrawingOptions>) => {
    if (!read.data) return;
    wanted.current = { ...(wanted.current ?? read.data.options), ...change };
    reading.current ??= during(setReading, async () => {
      let colours = read.data.inks.length;
      let sent: DrawingOptions | null = null;
      try {
        while (wanted.current && wanted.current !== sent) {
          sent = wanted.current;
          const view: DrawingView = await api.readDrawing(route.staged, sent);
          if (view.inks.length !== colours) setSaid(null);
          colours = view.inks.length;
          await take(queries, key, view);
        }
      } finally {
        wanted.current = null;
        reading.current = null;
      }
    });
  };
  const make = () =>
    during(setMaking, async () => {
      await reading.current;
      const view = queries.getQueryData<DrawingView>(key);
      if (!work || !view) return;
      const lie = view.inks.length === work.inks.length ? work : view.work;
      let made = await (stacking ? api.modelOfStack(route.staged, stacking) : api.modelOfDrawing(route.staged, lie));
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
  const asked = stacking ? stacked : bodies;
  const refused: Problem | null = asked.error instanceof Refused ? asked.error.problem : null;
  return {
    view: read.data,
    problem,
    work,
    bodies: bodies.data,
    stacking,
    stacked: stacked.data,
    isStacking: stacking !== null && stacked.isFetching,
    refused,
    say,
    stack,
    step,
    isFirst,
    isLast,
    readAnew,
    make,
    leave,
    isReading,
    isMaking,
  };
}

export type OnTable = ReturnType<typeof useDrawing>;
