import { limits } from "../../api/generated/limits";
import type { JobView } from "../../api/generated/JobView";
import { useBench } from "../../state/bench";
import { count } from "../../ui/format";
import { LengthField } from "../../ui/LengthField";
import { NumberField } from "../../ui/NumberField";
import { Select } from "../../ui/Select";
import { SliderRow } from "../../ui/SliderRow";
import { Tick } from "../../ui/Tick";
import { useOf } from "../../state/useOf";

/** Even steps of a radius look alike at every size. */
const byDoubling = { to: Math.log2, from: (place: number) => Number((2 ** place).toPrecision(2)) };

/** The options of the tool in hand. */
export function ToolOptions({ job, patchCount, onBands }: { job: JobView; patchCount: number | undefined; onBands: () => void }) {
  const { tool, settings: s, set } = useOf(useBench, "tool", "settings", "set");
  const partCount = job.models.reduce((n, m) => n + m.parts.length, 0);
  const patches = patchCount === undefined ? "…" : patchCount === 1 ? "one patch" : `${count(patchCount)} patches`;
  const crease = (
    <SliderRow
      label="Crease angle"
      value={s.creaseDeg}
      min={limits.crease.low}
      max={limits.crease.high}
      unit="°"
      note={patches}
      onChange={(creaseDeg) => set({ creaseDeg })}
    />
  );
  switch (tool) {
    case "patch":
      return (
        <>
          {crease}
          <div className="flex items-center justify-between gap-2">
            <Select
              label="Kept inside"
              value={s.within}
              className="h-6 flex-1 py-0!"
              options={[
                { value: "part", label: "In one part" },
                { value: "region", label: "In one region" },
                { value: "everywhere", label: "Over touching parts" },
              ]}
              onChange={(within) => set({ within: within as typeof s.within })}
            />
            <Tick
              isOn={s.turnDeg !== null}
              title="How far the surface may have turned from where you click"
              onChange={(isOn) => set({ turnDeg: isOn ? 45 : null })}
            >
              Turn
            </Tick>
            {s.turnDeg !== null && (
              <NumberField
                label="Furthest turn"
                value={s.turnDeg}
                unit="°"
                digits={0}
                width={46}
                onCommit={(turnDeg) => set({ turnDeg })}
              />
            )}
          </div>
        </>
      );
    case "relief":
      return (
        <>
          {crease}
          <Tick
            isOn={s.allAtHeight}
            title="Every relief of the part whose face is as high: a whole word or device"
            onChange={(allAtHeight) => set({ allAtHeight })}
          >
            And all at this height
          </Tick>
        </>
      );
    case "dab":
    case "dip":
      return (
        <>
          <SliderRow
            label="Radius"
            value={s.radiusMm}
            min={0.2}
            max={20}
            step={0.1}
            unit=" mm"
            isLive
            scale={byDoubling}
            onChange={(radiusMm) => set({ radiusMm })}
          />
          <div className="flex items-center justify-between">
            <span className="text-soft">{tool === "dab" ? "What you see" : "All inside, seen or not"}</span>
            <LengthField
              label="Radius in mm"
              value={s.radiusMm}
              digits={2}
              width={80}
              onCommit={(radiusMm) => set({ radiusMm: Math.min(100, Math.max(0.05, radiusMm)) })}
            />
          </div>
        </>
      );
    case "facet":
      return (
        <>
          <Tick isOn={s.flat} title="A flat face counts as one, however many facets it is cut into" onChange={(flat) => set({ flat })}>
            A flat face counts as one
          </Tick>
          <span className="text-soft">Click or drag over facets.</span>
        </>
      );
    case "band":
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
                onCommit={(n) => set({ bandCount: Math.min(500, Math.max(1, Math.round(n))) })}
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
    case "lasso":
      return (
        <>
          <Tick
            isOn={s.lassoStraight}
            title="Click corners; Enter or a double click closes it"
            onChange={(lassoStraight) => set({ lassoStraight })}
          >
            Straight edges
          </Tick>
          <Tick isOn={s.lassoThrough} title="Also what is hidden behind" onChange={(lassoThrough) => set({ lassoThrough })}>
            Right through
          </Tick>
        </>
      );
    case "part":
      return (
        <span className="text-[13px] text-soft">
          {partCount === 1
            ? "One fused body: a click takes all of it."
            : `${partCount} parts: a click takes one whole, and drops what is on it.`}
        </span>
      );
    case "alike":
      return (
        <>
          <Select
            label="What is alike"
            value={s.alikeTo}
            className="h-6 py-0!"
            options={[
              { value: "parts", label: "Copies of the part" },
              { value: "patches", label: "Patches of the same make" },
            ]}
            onChange={(alikeTo) => set({ alikeTo: alikeTo as typeof s.alikeTo })}
          />
          {s.alikeTo === "patches" ? crease : <span className="text-soft">Repeats the region on turned and mirrored copies.</span>}
        </>
      );
  }
}
