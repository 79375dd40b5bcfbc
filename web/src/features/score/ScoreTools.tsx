import { ChevronLeft, ChevronRight, Minus, Pin, PinOff, Plus, TableProperties } from "lucide-react";
import type { ReactNode } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { PlanView } from "../../api/generated/PlanView";
import { useScore } from "../../state/score";
import { ChangeHere } from "./ChangeHere";
import { ScoreTable } from "./ScoreTable";
import { useOf } from "../../state/useOf";

type Ready = Extract<PlanView, { state: "ready" }>;

/** Zoom, comparison and the table, at the head of the score. */
export function ScoreTools({
  job,
  latest,
  isAll,
  zoom,
  scroll,
  all,
  fromMm,
}: {
  job: JobView;
  latest: Ready;
  isAll: boolean;
  zoom: (by: number) => void;
  scroll: (by: number) => void;
  all: () => void;
  /** Bottom of the layer of the cursor, mm. */
  fromMm: number;
}) {
  const { pinned, pin } = useOf(useScore, "pinned", "pin");
  const isPinned = pinned?.job === job.id;
  return (
    <div className="absolute left-3 top-[3px] flex items-center" role="toolbar" aria-label="Score">
      <Tool label="Look closer (+)" onClick={() => zoom(0.7)}>
        <Plus size={13} />
      </Tool>
      <Tool label="Look from further away (−)" onClick={() => zoom(1.4)} isOff={isAll}>
        <Minus size={13} />
      </Tool>
      {!isAll && (
        <>
          <Tool label="Lower heights" onClick={() => scroll(-0.5)}>
            <ChevronLeft size={13} />
          </Tool>
          <Tool label="Greater heights" onClick={() => scroll(0.5)}>
            <ChevronRight size={13} />
          </Tool>
          <button type="button" className="px-1 text-[11.5px] font-semibold text-plum hover:underline" onClick={all}>
            All
          </button>
        </>
      )}
      <Tool
        label={isPinned ? "Put the kept state away" : "Keep this state and compare with it"}
        isOn={isPinned}
        onClick={() => pin(job.id, isPinned ? null : latest)}
      >
        {isPinned ? <PinOff size={13} /> : <Pin size={13} />}
      </Tool>
      {fromMm > 0 && <ChangeHere job={job} fromMm={fromMm} />}
      <ScoreTable job={job} plan={latest.plan}>
        <button type="button" className={look} aria-label="The score as a table" title="The score as a table">
          <TableProperties size={13} />
        </button>
      </ScoreTable>
    </div>
  );
}

const look = "grid size-5 place-items-center rounded-[3px] text-soft hover:bg-plum-tint hover:text-ink";

function Tool({
  label,
  onClick,
  isOff = false,
  isOn,
  children,
}: {
  label: string;
  onClick: () => void;
  isOff?: boolean;
  isOn?: boolean;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      className={`${look} disabled:opacity-35 ${isOn ? "bg-plum-tint text-plum" : ""}`}
      aria-label={label}
      title={label}
      aria-pressed={isOn}
      disabled={isOff}
      onClick={onClick}
    >
      {children}
    </button>
  );
}
