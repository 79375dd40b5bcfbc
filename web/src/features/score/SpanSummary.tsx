import type { JobView } from "../../api/generated/JobView";
import type { Plan } from "../../api/generated/Plan";
import { useScore } from "../../state/score";
import { Dot } from "../../ui/Dot";
import { duration, fixed, volume } from "../../ui/format";
import { layersText, slotColour, slotName } from "./names";
import { useOf } from "../../state/useOf";

/** Who uses what in the layers that are selected. */
export function SpanSummary({ job, plan }: { job: JobView; plan: Plan }) {
  const { span, setSpan } = useOf(useScore, "span", "setSpan");
  if (!span) return null;
  const layers = plan.layers.slice(span[0], span[1] + 1);
  const swaps = plan.swaps.filter((s) => s.layer >= span[0] && s.layer <= span[1]);
  const used = new Map<number, number>();
  for (const layer of layers)
    for (const [slot, mm3] of Object.entries(layer.extruded_mm3)) used.set(Number(slot), (used.get(Number(slot)) ?? 0) + mm3);
  const sum = (of: (s: (typeof swaps)[number]) => number) => swaps.reduce((all, s) => all + of(s), 0);
  return (
    <p
      className="absolute bottom-[3px] left-[172px] right-24 flex flex-wrap items-baseline gap-x-3 overflow-hidden bg-sheet text-[12px] leading-[16px]"
      aria-live="polite"
      aria-label="Layers selected"
    >
      <b>{layersText(span[0], span[1])}</b>
      <span className="figure">
        {swaps.length} {swaps.length === 1 ? "swap" : "swaps"}
      </span>
      <span className="figure">
        {fixed(
          sum((s) => s.waste_g),
          2,
        )}{" "}
        g purged
      </span>
      <span className="figure">{duration(layers.reduce((all, l) => all + l.seconds, 0))}</span>
      {[...used].map(([slot, mm3]) => (
        <span key={slot} className="inline-flex items-center gap-1 whitespace-nowrap">
          <Dot colour={slotColour(job, slot)} />
          {slotName(job, slot)} <span className="figure text-soft">{volume(mm3)}</span>
        </span>
      ))}
      <button type="button" className="font-semibold text-plum hover:underline" onClick={() => setSpan(null)}>
        Let go
      </button>
    </p>
  );
}
