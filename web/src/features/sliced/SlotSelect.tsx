import type { JobView } from "../../api/generated/JobView";
import { Select } from "../../ui/Select";

/** One of the printer's slots. */
export function SlotSelect({
  job,
  label,
  value,
  onChange,
}: {
  job: JobView;
  label: string;
  value: number | null;
  onChange: (slot: number) => void;
}) {
  const option = (slot: JobView["slots"][number], i: number) => ({
    value: String(i + 1),
    label: (
      <span className="flex items-center gap-1.5">
        <span className="size-3 shrink-0 rounded-[2px] border border-black/30" style={{ background: slot.colour }} aria-hidden />
        {i + 1} · {slot.spool?.name ?? "no spool"}
      </span>
    ),
  });
  return (
    <Select
      label={label}
      value={value === null ? "" : String(value)}
      placeholder="which slot?"
      options={job.slots.map(option)}
      onChange={(slot) => onChange(Number(slot))}
      className="w-52"
    />
  );
}
