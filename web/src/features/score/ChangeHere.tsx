import type { Edit } from "../../api/generated/Edit";
import type { JobView } from "../../api/generated/JobView";
import { useChanges } from "../../api/queries";
import { freshColour, freshKey } from "../colour/fresh";
import { Select } from "../../ui/Select";

/** From the layer of the cursor on, another slot: its region, or a new one where no region prints from it yet. */
export function ChangeHere({ job, fromMm }: { job: JobView; fromMm: number }) {
  const { edit, isBusy } = useChanges(job.id);
  const give = (slot: number) => {
    const region = job.regions.find((r) => r.slot === slot);
    const change = (key: string): Edit => ({ edit: "give-change", region: key, from_mm: fromMm });
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
    <Select
      label="From this layer on, another slot"
      value=""
      placeholder="From here on …"
      options={options}
      className={`h-5 border-0! bg-transparent! px-1! py-0! text-[11.5px] font-semibold text-plum ${isBusy ? "opacity-50" : ""}`}
      onChange={(slot) => give(Number(slot))}
    />
  );
}
