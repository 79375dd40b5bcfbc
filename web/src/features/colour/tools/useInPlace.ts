import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef } from "react";
import { takeJob } from "../../../api/answers";
import { api, Refused } from "../../../api/client";
import { useLatest } from "../../../api/latest";
import type { Edit } from "../../../api/generated/Edit";
import { keys } from "../../../api/queries";
import { useNotice } from "../../../state/notice";

/** An edit that is given once and then changed where it is: one call at a time, and of what changes meanwhile only the last. */
export function useInPlace(job: number) {
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const step = useRef<number | null>(null);
  const isOut = useRef(false);
  const run = useLatest(async (edit: Edit) => {
    isOut.current = true;
    try {
      const view = await api.edit(job, edit, step.current);
      step.current ??= view.step;
      await takeJob(queries, view);
      void queries.invalidateQueries({ queryKey: keys.plan(job) });
    } catch (e) {
      if (e instanceof Refused) {
        if (e.problem.code === "step-unknown") step.current = null;
        else show(e.problem);
      }
    }
    isOut.current = false;
  });
  const give = useCallback(
    (edit: Edit) => {
      step.current = null;
      void run(edit);
    },
    [run],
  );
  const again = useCallback(
    (edit: Edit) => {
      if (step.current !== null || isOut.current) void run(edit);
    },
    [run],
  );
  const letGo = useCallback(() => {
    step.current = null;
  }, []);
  return { give, again, letGo };
}
