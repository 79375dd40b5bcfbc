import { Eye, EyeOff, Lock, PrinterX } from "lucide-react";
import type { PointerEvent } from "react";
import type { JobView } from "../../api/generated/JobView";
import { useChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { NameField } from "../../ui/NameField";
import { Explained } from "../words/Explained";
import { PartMenu } from "./PartMenu";
import type { Listed } from "./partTree";
import { useOf } from "../../state/useOf";

/** A part of the list: chosen by click, moved by Alt and arrows or by drag, in step with the bench. */
export function PartRow({
  job,
  listed,
  depth,
  onChoose,
  onMove,
  onStep,
  onGrab,
  gap,
}: {
  job: JobView;
  listed: Listed;
  depth: number;
  onChoose: (how: "one" | "more" | "span") => void;
  onMove: (by: -1 | 1) => void;
  onStep: (by: -1 | 1) => void;
  onGrab: (e: PointerEvent<HTMLElement>) => void;
  /** Where a dragged row would come to lie. */
  gap: "above" | "below" | null;
}) {
  const { edit } = useChanges(job.id);
  const { chosen, hidden, setHidden, setPointed } = useOf(useBench, "chosen", "hidden", "setHidden", "setPointed");
  const isPointed = useBench((s) => s.pointed === listed.part.key);
  const crumbMm3 = useBench((s) => s.settings.fragmentMm3);
  const { part, at } = listed;
  const own = job.regions.find((r) => r.number === part.own);
  const isChosen = chosen.includes(part.key);
  const isHidden = hidden.includes(part.key);
  const toggle = () => setHidden(isHidden ? hidden.filter((k) => k !== part.key) : [...hidden, part.key]);
  return (
    <div
      role="row"
      aria-selected={isChosen}
      data-row={part.key}
      tabIndex={0}
      title="Drag it, or press Alt and arrows, to move it in the list"
      onPointerDown={onGrab}
      onMouseEnter={() => setPointed(part.key)}
      onMouseLeave={() => setPointed(null)}
      onClick={(e) => onChoose(e.shiftKey ? "span" : e.ctrlKey || e.metaKey ? "more" : "one")}
      onKeyDown={(e) => {
        if (e.target !== e.currentTarget) return;
        const by = e.key === "ArrowUp" ? -1 : e.key === "ArrowDown" ? 1 : null;
        if (by !== null) {
          e.preventDefault();
          e.stopPropagation();
          if (e.altKey) onMove(by);
          else onStep(by);
        } else if (e.key === "Enter" || e.key === " ") {
          e.preventDefault();
          onChoose(e.ctrlKey ? "more" : "one");
        }
      }}
      className={`relative flex touch-pan-y select-none items-center gap-2 py-1 pr-3 outline-none focus-visible:shadow-[inset_0_0_0_2px_var(--color-plum)] ${isChosen ? "bg-plum-tint" : isPointed ? "bg-sheet" : ""} ${
        gap === "above" ? "shadow-[inset_0_2px_0_var(--color-plum)]" : gap === "below" ? "shadow-[inset_0_-2px_0_var(--color-plum)]" : ""
      }`}
      style={{ paddingLeft: 14 + 14 * depth }}
    >
      <span
        className={`size-2.5 shrink-0 rounded-full border border-black/25 ${part.is_printed ? "" : "opacity-30"}`}
        style={{ background: own?.colour }}
        title={`Own region: ${own?.name ?? "none"}`}
      />
      <span role="gridcell" className="min-w-0 flex-1" onClick={(e) => e.stopPropagation()}>
        <NameField
          label={`Name of part ${part.name}`}
          value={part.name}
          className={part.is_printed && !isHidden ? "" : "text-faint"}
          onCommit={(name) => edit({ edit: "rename-part", at, name })}
        />
      </span>
      {Math.abs(part.volume_mm3) < crumbMm3 && (
        <span
          className="shrink-0 text-[11px] font-semibold text-amber"
          title={`Under ${crumbMm3} mm³: join or drop all such parts by the menu`}
        >
          <Explained word="crumb">crumb</Explained>
        </span>
      )}
      {!part.closed && (
        <span className="shrink-0 text-[11px] font-semibold text-amber" title="Its surface has gaps: mend it in Intake">
          open
        </span>
      )}
      {part.is_locked && <Lock size={12} className="shrink-0 text-soft" aria-label="Locked" />}
      {!part.is_printed && <PrinterX size={13} className="shrink-0 text-amber" aria-label="Left out of the print" />}
      {part.skipped_passes.length > 0 && (
        <span className="figure shrink-0 text-[11px] text-amber" title={`Left out of the pass of slot ${part.skipped_passes.join(", ")}`}>
          −{part.skipped_passes.join(",")}
        </span>
      )}
      <span role="gridcell" className="flex shrink-0 items-center gap-1" onClick={(e) => e.stopPropagation()}>
        <button
          type="button"
          aria-pressed={isHidden}
          aria-label={`Hide ${part.name}`}
          title={isHidden ? "Show it again" : "Hide it on the bench"}
          className="text-soft hover:text-ink"
          onClick={toggle}
        >
          {isHidden ? <EyeOff size={14} aria-hidden /> : <Eye size={14} aria-hidden />}
        </button>
        <PartMenu job={job} listed={listed} onMove={onMove} />
      </span>
    </div>
  );
}
