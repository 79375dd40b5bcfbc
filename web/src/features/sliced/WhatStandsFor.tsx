import type { JobView } from "../../api/generated/JobView";
import type { KeptFileView } from "../../api/generated/KeptFileView";
import { useKeeping } from "../../api/sliced";
import { SlotSelect } from "./SlotSelect";

/** Which slot stands for each tool of the file, and for each of its pauses. */
export function WhatStandsFor({ job, view }: { job: JobView; view: KeptFileView }) {
  const { say } = useKeeping(job.id);
  const { file, report } = view;
  const { tools, turns } = file;
  const slotOf = (tool: number) => {
    const slot = tools[tool] ?? tool + 1;
    return slot <= job.slots.length ? slot : null;
  };
  const toTool = (tool: number, slot: number) => void say(file.id, { tools: { ...tools, [tool]: slot }, turns });
  const toPause = (pause: number, slot: number) => {
    // Pauses are told in order: what nobody said yet stays what was in before.
    const begins = slotOf(report.tools[0] ?? 0) ?? 1;
    const told = report.pauses.slice(0, Math.max(pause + 1, turns.length));
    const now = told.map((_, i) => (i === pause ? slot : (turns[i] ?? turns[i - 1] ?? begins)));
    void say(file.id, { tools, turns: now });
  };
  // A strand says itself what comes next.
  if (file.made && file.made.splices.length > 0) return null;
  const only = report.tools.length === 1;
  return (
    <section aria-label="What stands for what" className="pt-4">
      <h2 className="heading">What stands for what</h2>
      <ul>
        {report.tools.map((tool) => (
          <li key={tool} className="flex items-center justify-between gap-3 border-b border-line py-1.5">
            <span>{only ? (report.pauses.length > 0 ? "It begins with" : "All of it is") : `Tool ${tool}`}</span>
            <SlotSelect job={job} label={`Slot for tool ${tool}`} value={slotOf(tool)} onChange={(slot) => toTool(tool, slot)} />
          </li>
        ))}
        {report.pauses.map((pause, i) => (
          <li key={i} className="flex items-center justify-between gap-3 border-b border-line py-1.5">
            <span className="min-w-0">
              Pause {i + 1}
              {pause.layer !== null && <span className="figure text-soft">, layer {pause.layer + 1}</span>}
              {pause.text && <span className="block truncate text-[12px] text-soft">{pause.text}</span>}
            </span>
            <SlotSelect job={job} label={`Slot for pause ${i + 1}`} value={pause.slot} onChange={(slot) => toPause(i, slot)} />
          </li>
        ))}
      </ul>
    </section>
  );
}
