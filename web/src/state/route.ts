import { useSyncExternalStore } from "react";

export const stages = ["intake", "colour", "load", "plan", "handover"] as const;
export type Stage = (typeof stages)[number];
export const stageNames: Record<Stage, string> = {
  intake: "Intake",
  colour: "Colour",
  load: "Load",
  plan: "Plan",
  handover: "Handover",
};

/** A drawing on the table, and the job or the model that it is for. */
export interface DrawingRoute {
  page: "drawing";
  staged: number;
  job?: number;
  model?: number;
}

export type Route =
  | DrawingRoute
  | { page: "shelf" }
  | { page: "status" }
  | { page: "words" }
  | { page: "guide"; at: string | undefined }
  | { page: "job"; id: number; stage: Stage; isRehearsal?: boolean; file?: number }
  | { page: "run-sheet"; id: number };

function parse(path: string): Route {
  const drawing = /^(?:\/jobs\/(\d+)(?:\/models\/(\d+))?)?\/drawings\/(\d+)$/.exec(path);
  if (drawing) {
    const [job, model, staged] = drawing.slice(1).map((n) => (n === undefined ? undefined : Number(n)));
    return { page: "drawing", staged: staged ?? 0, job, model };
  }
  if (path === "/status") return { page: "status" };
  if (path === "/words") return { page: "words" };
  if (path === "/guide" || path.startsWith("/guide/")) return { page: "guide", at: path.split("/")[2] };
  const [, jobs, id, rest, file, then] = path.split("/");
  if (jobs === "jobs" && id && /^\d+$/.test(id)) {
    if (rest === "run-sheet") return { page: "run-sheet", id: Number(id) };
    if (rest === "rehearsal") return { page: "job", id: Number(id), stage: "handover", isRehearsal: true };
    if (rest === "sliced" && file && /^\d+$/.test(file)) {
      return { page: "job", id: Number(id), stage: "handover", file: Number(file), isRehearsal: then === "rehearsal" };
    }
    const stage = stages.find((s) => s === rest) ?? "colour";
    return { page: "job", id: Number(id), stage };
  }
  return { page: "shelf" };
}

const watchers = new Set<() => void>();

function watch(changed: () => void) {
  watchers.add(changed);
  window.addEventListener("popstate", changed);
  return () => {
    watchers.delete(changed);
    window.removeEventListener("popstate", changed);
  };
}

export function go(path: string) {
  if (path !== window.location.pathname) window.history.pushState(null, "", path);
  watchers.forEach((changed) => changed());
}

export const useRoute = (): Route => parse(useSyncExternalStore(watch, () => window.location.pathname));
