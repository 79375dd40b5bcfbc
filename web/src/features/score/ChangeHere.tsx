import type { Edit } from "../../api/generated/Edit";
import type { JobView } from "../../api/generated/JobView";
import { useChanges } from "../../api/queries";
import { useScore } from "../../state/score";
import { useOf } from "../../state/useOf";
import { freshColour, freshKey } from "../colour/fresh";
import { Select } from "../../ui/Select";

const look = "h-5 border-0! bg-transparent! px-1! py-0! text-[11.5px] font-semibold text-plum";

/**
 * From a height on, another slot: its region, or a new one where no region prints from it yet. Where there are several parts, for
 * one of them or for all.
 */
export function ChangeHere({ job, fromMm }: { job: JobView; fromMm: number }) {
  const { edit, isBusy } = useChanges(job.id);
  const { changeOf, setChangeOf } = useOf(useScore, "changeOf", "setChangeOf");
  const parts = job.models.flatMap((m) => m.parts.filter((p) => p.is_printed).map((p) => ({ model: m.name, ...p })));
  const only = changeOf?.job === job.id ? parts.find((p) => p.key === changeOf.part) : undefined;
  const give = (slot: number) => {
    const region = job.regions.find((r) => r.slot === slot);
    const at = only && { model: only.model, point: only.point, normal: only.normal };
    const change = (key: string): Edit => ({ edit: "give-change", region: key, from_mm: fromMm, ...(at ? { at } : {}) });
    if (region) return edit(change(region.key));
    const of = job.slots.find((s) => s.slot === slot);
    const key = freshKey(job);
    const name = of?.spool?.name ?? `Slot ${slot}`;
    // A step of its own, so that the change can be dragged by itself.
    edit(
      { edit: "add-region", region: key, name, colour: of?.spool ? of.colour : freshColour(job), slot },
      { onSuccess: () => edit(change(key)) },
    );
  };
  const options = job.slots.map((s) => ({
    value: String(s.slot),
    label: (
      <span className="flex items-center gap-1.5">
        <span className="size-3 rounded-[3px] border border-black/30" style={{ background: s.colour }} />
        <span className="figure">{s.slot}</span> {s.spool?.name ?? "No spool"}
      </span>
    ),
  }));
  return (
    <>
      <Select
        label="From this layer on, another slot"
        value=""
        placeholder="From here on …"
        options={options}
        className={`${look} ${isBusy ? "opacity-50" : ""}`}
        onChange={(slot) => give(Number(slot))}
      />
      {parts.length > 1 && (
        <Select
          label="What changes from this layer on"
          value={only ? String(only.key) : "all"}
          options={[{ value: "all", label: "everything" }, ...parts.map((p) => ({ value: String(p.key), label: p.name }))]}
          className={`${look} max-w-28`}
          onChange={(of) => setChangeOf(of === "all" ? null : { job: job.id, part: Number(of) })}
        />
      )}
    </>
  );
}
