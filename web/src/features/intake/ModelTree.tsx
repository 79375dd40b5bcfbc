import { ChevronDown, ChevronRight, TriangleAlert } from "lucide-react";
import { useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { ModelView } from "../../api/generated/ModelView";
import { useIntake, type Selection } from "../../state/intake";
import { fixed } from "../../ui/format";

const sizeText = (size: readonly number[]) => size.map((c) => fixed(c, 1)).join(" × ");

/** Everything, the models and their parts; what is chosen here is what the card shows and placing moves. */
export function ModelTree({ job, selection }: { job: JobView; selection: Selection }) {
  const select = useIntake((s) => s.select);
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const toggle = (name: string) =>
    setOpen((old) => {
      const next = new Set(old);
      if (!next.delete(name)) next.add(name);
      return next;
    });
  return (
    <ul className="max-h-[38%] shrink-0 overflow-y-auto pb-2" aria-label="Models and parts">
      {job.models.length > 1 && (
        <Row
          isChosen={selection.of === "everything"}
          onChoose={() => select({ of: "everything" })}
          name="Everything"
          right={sizeText(job.size_mm)}
        />
      )}
      {job.models.map((m, i) => {
        const isChosen = selection.of === "model" && selection.model === i;
        const hasParts = m.parts.length > 1;
        const isOpen = hasParts && open.has(m.name);
        return (
          <li key={m.name}>
            <ul>
              <Row
                isChosen={isChosen}
                onChoose={() => select({ of: "model", model: i })}
                name={m.name}
                under={`${m.file}${hasParts ? ` · ${m.parts.length} parts` : ""}`}
                right={sizeText(m.size_mm)}
                trouble={troubleOf(m)}
                fold={hasParts ? { isOpen, toggle: () => toggle(m.name) } : undefined}
              />
              {isOpen &&
                m.parts.map((p, j) => (
                  <Row
                    key={j}
                    isInner
                    isChosen={selection.of === "part" && selection.model === i && selection.part === j}
                    onChoose={() => select({ of: "part", model: i, part: j })}
                    name={p.name}
                    swatch={job.regions.find((r) => r.number === p.own)?.colour}
                    right={p.closed ? "" : "open"}
                  />
                ))}
            </ul>
          </li>
        );
      })}
    </ul>
  );
}

function troubleOf(m: ModelView): string | undefined {
  if (m.doubt) return m.doubt.message;
  const [first] = m.defects;
  return first ? "It has defects" : undefined;
}

function Row({
  name,
  under,
  right,
  isChosen,
  isInner,
  trouble,
  swatch,
  fold,
  onChoose,
}: {
  name: string;
  under?: string;
  right: string;
  isChosen: boolean;
  isInner?: boolean;
  trouble?: string | undefined;
  swatch?: string | undefined;
  fold?: { isOpen: boolean; toggle: () => void } | undefined;
  onChoose: () => void;
}) {
  return (
    <li className={`flex items-center border-l-[3px] ${isChosen ? "border-plum bg-plum-tint" : "border-transparent hover:bg-sheet"}`}>
      <span className={isInner ? "w-8 shrink-0" : "w-[17px] shrink-0"}>
        {fold && (
          <button
            type="button"
            onClick={fold.toggle}
            aria-expanded={fold.isOpen}
            aria-label={`Parts of ${name}`}
            className="flex text-soft hover:text-ink"
          >
            {fold.isOpen ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
          </button>
        )}
      </span>
      <button
        type="button"
        aria-pressed={isChosen}
        onClick={onChoose}
        className="flex min-w-0 flex-1 items-center gap-2 py-1 pr-5 text-left"
      >
        {swatch && <span className="size-2.5 shrink-0 rounded-full border border-black/25" style={{ background: swatch }} aria-hidden />}
        <span className="min-w-0 flex-1">
          <span className="block truncate" title={name}>
            {name}
          </span>
          {under && (
            <span className="block truncate text-[12px] text-soft" title={under}>
              {under}
            </span>
          )}
        </span>
        {trouble && (
          <span title={trouble} className="shrink-0 text-look">
            <TriangleAlert size={14} aria-label={trouble} />
          </span>
        )}
        <span className="figure shrink-0 text-[12px] text-soft">{right}</span>
      </button>
    </li>
  );
}
