import type { Edit } from "../../api/generated/Edit";
import type { RegionView } from "../../api/generated/RegionView";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { Explained } from "../words/Explained";

const ways = [
  { value: "mm", label: "mm" },
  { value: "layers", label: "layers" },
  { value: "through", label: "right through" },
];

/** How far a region's colour goes in: a length, layers, or right through. */
export function SoakField({ region: r, layerMm, onEdit }: { region: RegionView; layerMm: number; onEdit: (edit: Edit) => void }) {
  const { depth } = r;
  const set = (to: { soak_mm: number } | { layers: number } | { through: true }) => onEdit({ edit: "set-soak", region: r.key, ...to });
  const usual = 0.8;
  const change = (by: string) => {
    if (by === "through") set({ through: true });
    else if (by === "layers") set({ layers: Math.max(1, Math.round((depth.by === "mm" ? depth.mm : usual) / layerMm)) });
    else set({ soak_mm: depth.by === "layers" ? depth.layers * layerMm : usual });
  };
  return (
    <div className="flex items-center justify-between gap-1 whitespace-nowrap" title="How far the colour goes in below the surface">
      <Explained word="soak">Soak depth</Explained>
      <span className="flex items-center gap-1">
        {depth.by !== "through" && (
          <NumberField
            label={`Soak depth of ${r.name}`}
            value={depth.by === "mm" ? depth.mm : depth.layers}
            unit=""
            digits={depth.by === "mm" ? 2 : 0}
            width={48}
            onCommit={(n) => set(depth.by === "mm" ? { soak_mm: n } : { layers: Math.round(n) })}
          />
        )}
        <Select
          label={`How the soak depth of ${r.name} is told`}
          value={depth.by}
          options={ways}
          className="h-6 px-1.5! py-0! text-ink"
          onChange={change}
        />
      </span>
    </div>
  );
}
