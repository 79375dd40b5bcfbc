import { useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import type { Mending } from "../../api/generated/Mending";
import type { MendPreview } from "../../api/generated/MendPreview";
import type { ModelView } from "../../api/generated/ModelView";
import { Refused } from "../../api/client";
import { useChanges, useDefects, useMendPreview } from "../../api/queries";
import { Button } from "../../ui/Button";
import { count } from "../../ui/format";
import { LengthField } from "../../ui/LengthField";
import { defectNames } from "./Defects";

interface Choice {
  weld: boolean;
  weldMm: number;
  degenerate: boolean;
  duplicates: boolean;
  turn: boolean;
  holes: boolean;
  /** None until typed: then what closes every hole that is not half the model. */
  holesMm: number | null;
  specks: boolean;
  specksMm: number;
}

/** What can be mended, with a preview of what that changes. Mending is an edit, undone like any other. */
export function MendForm({ job, index, model }: { job: JobView; index: number; model: ModelView }) {
  const { edit } = useChanges(job.id);
  const has = (kind: string) => model.defects.some((d) => d.kind === kind);
  const [isOpen, setOpen] = useState(false);
  const [choice, setChoice] = useState<Choice>(() => ({
    weld: has("open-edge"),
    weldMm: 0.01,
    degenerate: has("degenerate-facet"),
    duplicates: has("duplicate-facet"),
    turn: has("turned-facet") || has("inside-out-part"),
    holes: has("open-edge"),
    holesMm: null,
    specks: false,
    specksMm: 1,
  }));
  const set = (change: Partial<Choice>) => setChoice((c) => ({ ...c, ...change }));
  const places = useDefects(job.id, index, model.mesh_key, isOpen && has("open-edge") ? "open-edge" : null);
  const half = 0.5 * Math.hypot(...model.size_mm);
  const across = (places.data ?? []).map((p) => 2 * p.radius_mm).filter((mm) => mm < half);
  const holesMm = choice.holesMm ?? (Math.ceil(10 * Math.max(0, ...across) + 0.5) / 10 || 5);
  const mending: Mending = {
    ...(choice.weld ? { weld_mm: choice.weldMm } : {}),
    degenerate: choice.degenerate,
    duplicates: choice.duplicates,
    turn: choice.turn,
    ...(choice.holes ? { holes_mm: holesMm } : {}),
    ...(choice.specks ? { specks_mm: choice.specksMm } : {}),
  };
  const preview = useMendPreview(job.id, index, model.mesh_key, isOpen ? mending : null);
  if (!isOpen) {
    return (
      <Button className="mt-2" onClick={() => setOpen(true)}>
        {model.defects.length > 0 ? "Mend" : "Weld, close holes, drop specks"}
      </Button>
    );
  }
  const changes = preview.data ? changesOf(preview.data) : [];
  return (
    <form
      aria-label="Mending"
      className="mt-2 border border-line bg-sheet p-3"
      onSubmit={(e) => {
        e.preventDefault();
        edit({ edit: "mend", model: model.name, mending }, { onSuccess: () => setOpen(false) });
      }}
    >
      <Line name="Weld cracks up to" isOn={choice.weld} onToggle={(weld) => set({ weld })}>
        <LengthField label="Weld cracks up to" value={choice.weldMm} digits={3} onCommit={(weldMm) => set({ weldMm })} />
      </Line>
      <Line name="Take out facets without area" isOn={choice.degenerate} onToggle={(degenerate) => set({ degenerate })} />
      <Line name="Take out repeated facets" isOn={choice.duplicates} onToggle={(duplicates) => set({ duplicates })} />
      <Line name="Turn facets outward" isOn={choice.turn} onToggle={(turn) => set({ turn })} />
      <Line name="Close holes up to" isOn={choice.holes} onToggle={(holes) => set({ holes })}>
        <LengthField label="Close holes up to" value={holesMm} onCommit={(mm) => set({ holesMm: mm })} />
      </Line>
      <Line name="Drop specks up to" isOn={choice.specks} onToggle={(specks) => set({ specks })}>
        <LengthField label="Drop specks up to" value={choice.specksMm} onCommit={(specksMm) => set({ specksMm })} />
      </Line>
      <p className="mt-2 min-h-9" role="status" aria-label="What mending would do">
        {preview.error ? (
          <span className="text-wrong">
            {preview.error instanceof Refused ? `${preview.error.problem.message}. ${preview.error.problem.mend}` : preview.error.message}
          </span>
        ) : !preview.data ? (
          <span className="text-soft">Trying it out</span>
        ) : changes.length === 0 ? (
          <span className="text-soft">This finds nothing to mend.</span>
        ) : (
          <>
            Would {changes.join(", ")}. <Afterwards preview={preview.data} />
          </>
        )}
      </p>
      <div className="mt-2 flex gap-2">
        <Button kind="main" type="submit" disabled={changes.length === 0}>
          Mend it
        </Button>
        <Button onClick={() => setOpen(false)}>Leave it</Button>
      </div>
    </form>
  );
}

function Line({
  name,
  isOn,
  onToggle,
  children,
}: {
  name: string;
  isOn: boolean;
  onToggle: (on: boolean) => void;
  children?: React.ReactNode;
}) {
  return (
    <div className="flex h-7 items-center justify-between gap-2">
      <label className="flex items-center gap-2">
        <input type="checkbox" className="accent-plum" checked={isOn} onChange={(e) => onToggle(e.target.checked)} />
        {name}
      </label>
      {children}
    </div>
  );
}

function Afterwards({ preview }: { preview: MendPreview }) {
  const left = preview.defects.map((d) => `${count(d.count)} ${d.count === 1 ? defectNames[d.kind].one : defectNames[d.kind].many}`);
  return left.length === 0 ? (
    <span className="text-fine">✓ Nothing wrong afterwards.</span>
  ) : (
    <span className="text-look">Left: {left.join(", ")}.</span>
  );
}

function changesOf({ report: r }: MendPreview): string[] {
  const plural = (n: number, one: string, many: string) => `${count(n)} ${n === 1 ? one : many}`;
  return [
    r.welded > 0 && `join ${plural(r.welded, "corner", "corners")}`,
    r.degenerate > 0 && `take out ${plural(r.degenerate, "facet", "facets")} without area`,
    r.duplicates > 0 && `take out ${plural(r.duplicates, "repeated facet", "repeated facets")}`,
    r.turned > 0 && `turn ${plural(r.turned, "facet", "facets")}`,
    r.holes > 0 && `close ${plural(r.holes, "hole", "holes")} with ${plural(r.added, "facet", "facets")}`,
    r.specks > 0 && `drop ${plural(r.specks, "speck", "specks")}`,
  ].filter((t) => t !== false);
}
