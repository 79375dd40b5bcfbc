import { useQueryClient } from "@tanstack/react-query";
import { SlidersHorizontal } from "lucide-react";
import { useRef, useState } from "react";
import { api, Refused } from "../../api/client";
import type { JobView } from "../../api/generated/JobView";
import type { Replayed } from "../../api/generated/Replayed";
import { keys, useChanges, useSteps } from "../../api/queries";
import { useNotice } from "../../state/notice";
import { useBench } from "../../state/bench";
import { isLaying, takeUp } from "./laying/asked";
import { hasNumbers, StepNumbers } from "./StepNumbers";

/** Everything done so far in plain words; a click goes there, and numbers can be changed later. */
export function StepList({ job }: { job: JobView }) {
  const steps = useSteps(job.id, job.revision);
  const { stand, isBusy } = useChanges(job.id);
  const [open, setOpen] = useState<number | null>(null);
  const [replayed, setReplayed] = useState<Replayed | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const queries = useQueryClient();
  const show = useNotice((s) => s.show);
  const all = steps.data?.steps ?? [];
  const floor = steps.data?.floor ?? 0;
  const now = all.filter((s) => s.is_applied).length;
  const replay = async (picked: File | undefined) => {
    if (!picked) return;
    try {
      setReplayed(await api.replay(job.id, await picked.text()));
      void queries.invalidateQueries({ queryKey: keys.job(job.id) });
    } catch (e) {
      if (e instanceof Refused) show(e.problem);
    }
  };
  return (
    <div aria-label="Steps">
      <div className="flex gap-3 px-3.5 py-2 text-[12px] font-semibold text-plum">
        <a
          href={api.fileUrl(job.id, "recipe.json")}
          download
          className="hover:underline"
          title="All steps as a file, for another mesh or the command line"
        >
          Save as recipe
        </a>
        <button
          type="button"
          className="hover:underline"
          title="Do the steps of a recipe here, as far as they find their place"
          onClick={() => file.current?.click()}
        >
          Replay a recipe
        </button>
        <input
          ref={file}
          type="file"
          accept=".json"
          hidden
          aria-label="Recipe file"
          onChange={(e) => {
            void replay(e.target.files?.[0]);
            e.target.value = "";
          }}
        />
      </div>
      {replayed && (
        <div className="border-y border-line bg-sheet px-3.5 py-2" role="status">
          <b>{replayed.applied === 1 ? "1 step done" : `${replayed.applied} steps done`}</b>, {replayed.left_out.length} left out.
          <ul className="text-[12px] text-soft">
            {replayed.left_out.slice(0, 8).map((l) => (
              <li key={l.number}>
                {l.number}. {l.what}: {l.why.message}
              </li>
            ))}
          </ul>
          <button type="button" className="text-[12px] font-semibold text-plum hover:underline" onClick={() => setReplayed(null)}>
            Close
          </button>
        </div>
      )}
      <ol>
        {all.map((step, i) => {
          const isHere = i + 1 === now;
          return (
            <li
              key={step.number}
              className={`relative border-b border-line ${isHere ? "bg-plum-tint" : "hover:bg-sheet"} ${step.is_applied ? "" : "text-faint"}`}
            >
              <button
                type="button"
                disabled={isBusy || i + 1 < floor}
                aria-current={isHere ? "step" : undefined}
                className="flex w-full items-baseline gap-2 py-1.5 pl-3.5 pr-9 text-left disabled:cursor-default"
                title={
                  i + 1 < floor ? "The model was opened here" : step.is_applied ? "Go back to after this step" : "Go forward to this step"
                }
                onClick={() => stand(i + 1)}
                ref={(at) => {
                  if (isHere) at?.scrollIntoView({ block: "nearest" });
                }}
              >
                <span className="figure w-5 shrink-0 text-right text-[11px] text-faint">{step.number}</span>
                <span className={`min-w-0 flex-1 ${step.is_left_out ? "text-faint line-through" : ""}`}>
                  {step.what}
                  {step.is_changed && <span className="text-soft"> (changed)</span>}
                </span>
              </button>
              {step.is_applied && !step.is_left_out && isLaying(step.edit) && (
                <button
                  type="button"
                  aria-label={`Change what step ${step.number} lays`}
                  title="Take it in hand again: move, turn or size it, or lay another"
                  className="absolute right-3 top-1.5 rounded-[3px] p-0.5 text-faint hover:text-plum"
                  onClick={() => {
                    takeUp(step.number, step.edit);
                    useBench.getState().setTool("lay");
                  }}
                >
                  <SlidersHorizontal size={14} aria-hidden />
                </button>
              )}
              {step.is_applied && !step.is_left_out && hasNumbers(step.edit) && (
                <StepNumbers
                  job={job}
                  step={step}
                  isOpen={open === step.number}
                  onToggle={() => setOpen(open === step.number ? null : step.number)}
                />
              )}
            </li>
          );
        })}
      </ol>
    </div>
  );
}
