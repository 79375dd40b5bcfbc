import type { JobView } from "../../api/generated/JobView";
import { usePrinters } from "../../api/loading";
import { useChanges } from "../../api/queries";
import { Select } from "../../ui/Select";

/** Which printer a job is for: one of the maker's own, or an example that is not among them. */
export function PrinterSelect({ job, className }: { job: JobView; className: string }) {
  const { edit } = useChanges(job.id);
  const printers = usePrinters().data;
  const known = printers?.printers.map((p) => p.printer) ?? [];
  const others = (printers?.examples ?? []).filter((e) => known.every((k) => k.name !== e.name));
  const all = [...known, ...others];
  const index = all.findIndex((p) => p.name === job.printer.name);
  return (
    <Select
      label="Printer"
      value={index >= 0 ? String(index) : ""}
      placeholder={job.printer.name}
      className={className}
      options={all.map((p, i) => ({ value: String(i), label: p.name }))}
      onChange={(v) => {
        const printer = all[Number(v)];
        if (printer) edit({ edit: "set-printer", printer });
      }}
    />
  );
}
