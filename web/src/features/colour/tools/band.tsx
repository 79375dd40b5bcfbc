import type { BandDepth } from "../../../api/generated/BandDepth";
import type { Edit } from "../../../api/generated/Edit";
import { limits } from "../../../api/generated/limits";
import type { Place } from "../../../api/generated/Place";
import { useBench, type Settings } from "../../../state/bench";
import { useOf } from "../../../state/useOf";
import { fixed } from "../../../ui/format";
import { LengthField } from "../../../ui/LengthField";
import { NumberField } from "../../../ui/NumberField";
import { Select } from "../../../ui/Select";
import { Tick } from "../../../ui/Tick";
import type { OptionsProps, ToolCard } from "./card";

/** A band as the fields have it, or between two heights that were dragged. */
export function bandEdit(s: Settings, region: string, at: Place | null, heights?: [number, number]): Edit {
  const [low, high] = heights ?? [s.bandLow, s.bandHigh];
  return {
    edit: "give-band",
    region,
    low_mm: Math.min(low, high),
    high_mm: Math.max(low, high),
    snap: s.bandSnap,
    depth: s.bandDepth,
    count: heights ? 1 : s.bandCount,
    pitch_mm: s.bandPitch,
    ...(at && s.bandOnPart ? { at } : {}),
  };
}

const depths: { value: BandDepth; label: string }[] = [
  { value: "skin", label: "as it soaks" },
  { value: "through", label: "right through" },
  { value: "inside", label: "inside only" },
];

function Options({ job, onBands }: OptionsProps) {
  const { settings: s, set } = useOf(useBench, "settings", "set");
  return (
    <>
      <div className="flex items-center justify-between gap-1">
        <LengthField label="Lower height" value={s.bandLow} digits={2} width={68} isLow onCommit={(bandLow) => set({ bandLow })} />
        <span className="text-soft">to</span>
        <LengthField label="Upper height" value={s.bandHigh} digits={2} width={68} isLow onCommit={(bandHigh) => set({ bandHigh })} />
        <button type="button" className="font-semibold text-plum hover:underline" onClick={onBands} title="Give this band on all parts">
          Give
        </button>
      </div>
      <div className="flex items-center justify-between gap-1">
        <span className="flex items-center gap-1">
          <NumberField
            label="Number of bands"
            value={s.bandCount}
            unit="×"
            digits={0}
            width={42}
            isLow
            range={limits.bands}
            onCommit={(n) => set({ bandCount: Math.round(n) })}
          />
          <span className="text-soft">every</span>
        </span>
        <span className={s.bandCount > 1 ? "" : "opacity-40"}>
          <LengthField
            label="Pitch of bands"
            value={s.bandPitch}
            digits={2}
            width={76}
            isLow
            disabled={s.bandCount === 1}
            onCommit={(bandPitch) => set({ bandPitch })}
          />
        </span>
      </div>
      <div className="flex items-center justify-between gap-1">
        <span className="text-soft">Goes in</span>
        <Select
          label="How far bands go in"
          value={s.bandDepth}
          options={depths}
          className="h-6 w-[150px] px-1.5! py-0!"
          onChange={(d) => set({ bandDepth: depths.find((o) => o.value === d)?.value ?? "skin" })}
        />
      </div>
      <div className="flex items-center justify-between">
        <Tick
          isOn={s.bandSnap}
          title={`Layers of ${job.printer.layer_mm} mm after a first one of ${job.printer.first_layer_mm} mm`}
          onChange={(bandSnap) => set({ bandSnap })}
        >
          Snap to layers
        </Tick>
        <Tick isOn={s.bandOnPart} title="Only on the part that is clicked" onChange={(bandOnPart) => set({ bandOnPart })}>
          One part
        </Tick>
      </div>
    </>
  );
}

function bandsInWords(bands: readonly (readonly [number, number])[]): string {
  const [first] = bands;
  if (!first) return "the band";
  const from = `${fixed(first[0], 2)} to ${fixed(first[1], 2)} mm`;
  return bands.length === 1 ? from : `${bands.length} bands from ${from} on`;
}

/** Everything between two heights. */
export const band: ToolCard = {
  tool: "band",
  name: "Band",
  key: "B",
  icon: <path d="M2.5 7h15 M2.5 13h15" />,
  isDrawn: true,
  Options,
  how: (to) => <>Drag from one height to another to give the band to {to}, or type both.</>,
  here: ({ to, height, bands }) => (
    <>
      At {height}. Drag to another height, or click to give {to} {bandsInWords(bands)}.
    </>
  ),
};
