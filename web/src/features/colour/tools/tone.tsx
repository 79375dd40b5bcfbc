import { useEffect, useRef } from "react";
import type { Edit } from "../../../api/generated/Edit";
import { limits } from "../../../api/generated/limits";
import { useBench, useTarget, type Settings } from "../../../state/bench";
import { useOf } from "../../../state/useOf";
import { NumberField } from "../../../ui/NumberField";
import { Select } from "../../../ui/Select";
import type { OptionsProps, ToolCard } from "./card";
import { useInPlace } from "./useInPlace";

const kinds: { value: Settings["tone"]; label: string }[] = [
  { value: "shade", label: "Recesses" },
  { value: "light", label: "What looks up" },
  { value: "edges", label: "Edges" },
  { value: "speckles", label: "Speckles" },
];

/** A tone as the fields have it. */
export function toneEdit(s: Settings, region: string): Edit {
  return s.tone === "speckles"
    ? { edit: "give-speckles", region, width_mm: s.speckleMm, share: s.speckleShare, seed: s.speckleSeed }
    : { edit: "give-tone", region, tone: s.tone, strength: s.toneStrength, reach_mm: s.toneReach };
}

function Options({ job }: OptionsProps) {
  const { settings: s, set } = useOf(useBench, "settings", "set");
  const region = useTarget();
  const { give, again, letGo } = useInPlace(job.id);
  const isSpeckles = s.tone === "speckles";
  // Another region or kind is another step.
  const own = `${region} ${s.tone}`;
  const last = useRef(own);
  useEffect(() => {
    if (last.current !== own) letGo();
    last.current = own;
  }, [own, letGo]);
  const say = (change: Partial<Settings>) => {
    set(change);
    again(toneEdit({ ...s, ...change }, region));
  };
  const share = isSpeckles ? s.speckleShare : s.toneStrength;
  const range = isSpeckles ? limits.speckleShare : limits.toneStrength;
  return (
    <>
      <div className="flex items-center justify-between gap-1">
        <Select
          label="What is taken"
          value={s.tone}
          options={kinds}
          className="h-6 w-[120px] px-1.5! py-0!"
          onChange={(tone) => set({ tone: kinds.find((k) => k.value === tone)?.value ?? "shade" })}
        />
        {isSpeckles && (
          <button
            type="button"
            className="text-soft hover:text-ink"
            title="Strew them otherwise"
            onClick={() => say({ speckleSeed: s.speckleSeed + 1 })}
          >
            Strew
          </button>
        )}
        <button type="button" className="font-semibold text-plum hover:underline" onClick={() => give(toneEdit(s, region))}>
          Give
        </button>
      </div>
      <div className="flex items-center justify-between gap-2 text-soft">
        <input
          type="range"
          aria-label="How much of it"
          className="min-w-0 flex-1 accent-plum"
          min={range.low}
          max={range.high}
          step={0.01}
          value={share}
          onChange={(e) => say(isSpeckles ? { speckleShare: Number(e.target.value) } : { toneStrength: Number(e.target.value) })}
        />
        <span className="figure w-9 text-right">{Math.round(100 * share)} %</span>
        {s.tone !== "light" && (
          <NumberField
            label={isSpeckles ? "Width of speckles" : "Reach"}
            value={isSpeckles ? s.speckleMm : s.toneReach}
            unit="mm"
            digits={1}
            width={64}
            isLow
            range={isSpeckles ? limits.speckle : limits.toneReach}
            onCommit={(mm) => say(isSpeckles ? { speckleMm: mm } : { toneReach: mm })}
          />
        )}
      </div>
    </>
  );
}

/** Shade, light, edges and speckles: what a painter sets after the base coats. */
export const tone: ToolCard = {
  tool: "tone",
  name: "Tone",
  key: "N",
  icon: (
    <>
      <circle cx="10" cy="10" r="7" />
      <path d="M10 3a7 7 0 0 1 0 14c3-3 3-11 0-14z" fill="currentColor" />
    </>
  ),
  Options,
  how: (to) => <>Give to {to}; the slider then changes it where it is.</>,
};
