import type { JobView } from "../../api/generated/JobView";
import type { Printer } from "../../api/generated/Printer";
import { useChanges } from "../../api/queries";
import { NumberField } from "../../ui/NumberField";

interface Setting {
  name: string;
  unit: string;
  digits: number;
  factor?: number;
  read: (p: Printer) => number;
  write: (p: Printer, v: number) => Printer;
}

const settings: Setting[] = [
  { name: "Layer height", unit: "mm", digits: 2, read: (p) => p.layer_mm, write: (p, v) => ({ ...p, layer_mm: v }) },
  { name: "First layer", unit: "mm", digits: 2, read: (p) => p.first_layer_mm, write: (p, v) => ({ ...p, first_layer_mm: v }) },
  { name: "Line width", unit: "mm", digits: 2, read: (p) => p.line_width_mm, write: (p, v) => ({ ...p, line_width_mm: v }) },
  { name: "Walls", unit: "lines", digits: 0, read: (p) => p.walls, write: (p, v) => ({ ...p, walls: Math.round(v) }) },
  { name: "Infill", unit: "%", digits: 0, factor: 100, read: (p) => p.infill, write: (p, v) => ({ ...p, infill: v }) },
  { name: "Swap time", unit: "s", digits: 0, read: (p) => p.swap_s, write: (p, v) => ({ ...p, swap_s: v }) },
  { name: "Melt zone", unit: "mm³", digits: 0, read: (p) => p.melt.volume_mm3, write: (p, v) => ({ ...p, melt: { ...p.melt, volume_mm3: v } }) },
  { name: "Tanks in series", unit: "", digits: 0, read: (p) => p.melt.tanks, write: (p, v) => ({ ...p, melt: { ...p.melt, tanks: Math.round(v) } }) },
  { name: "Clean at ΔE", unit: "", digits: 1, read: (p) => p.tolerance, write: (p, v) => ({ ...p, tolerance: v }) },
];

/** The settings that shape layers, time and rinse. Each change is an edit like any other. */
export function PrinterForm({ job }: { job: JobView }) {
  const { edit } = useChanges(job.id);
  return (
    <div className="mt-7">
      <h2 className="heading mb-2">Print settings</h2>
      <div className="grid grid-cols-2 gap-x-8 border-t border-line">
        {settings.map((s) => (
          <label key={s.name} className="flex items-center justify-between border-b border-line py-1.5">
            {s.name}
            <NumberField label={s.name} value={s.read(job.printer)} unit={s.unit} digits={s.digits} {...(s.factor ? { factor: s.factor } : {})} onCommit={(v) => edit({ edit: "set-printer", printer: s.write(job.printer, v) })} />
          </label>
        ))}
      </div>
    </div>
  );
}
