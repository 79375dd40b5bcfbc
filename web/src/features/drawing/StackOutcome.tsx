import type { Stacking } from "../../api/generated/Stacking";
import type { StackedView } from "../../api/generated/StackedView";
import { Button } from "../../ui/Button";
import { Swatch } from "../../ui/Swatch";
import { Wedge } from "./Wedge";
import type { OnTable } from "./useDrawing";

/** What a stack comes to: how near it is, its spools from the top down, its tones, and the wedge that makes it true. */
export function StackOutcome({ table, stacking }: { table: OnTable; stacking: Stacking }) {
  const { stacked, refused } = table;
  return (
    <aside className="flex min-h-0 flex-col gap-4 overflow-y-auto border-l border-line px-5 pb-5 pt-3.5" aria-label="What it comes to">
      {stacked && !refused && (
        <>
          <section>
            <p className="figure text-[19px] font-semibold">{stacked.height_mm.toFixed(2)} mm high</p>
            <p className="figure text-soft">
              {stacked.swaps === 1 ? "1 swap" : `${stacked.swaps} swaps`} · difference {stacked.mean_difference.toFixed(1)}
            </p>
            <p className="mt-1 text-[11.5px] text-soft">
              Mean CIEDE2000 between the picture and what will show, worked out from how each spool hides.
            </p>
          </section>
          <Layers stacked={stacked} />
          <Tones stacked={stacked} />
        </>
      )}
      {refused && (
        <p role="alert">
          <span className="text-wrong">✕ {refused.message}.</span> <span className="text-soft">{refused.mend}</span>
        </p>
      )}
      <div className="flex gap-2">
        <Button kind="main" disabled={!stacked || !!refused || table.isMaking} onClick={() => void table.make()}>
          Make the stack
        </Button>
        <Button onClick={table.leave}>Leave it</Button>
      </div>
      <Wedge stacking={stacking} />
    </aside>
  );
}

function Layers({ stacked }: { stacked: StackedView }) {
  return (
    <dl className="border-t border-line" title="Layers of each spool, and how high they reach">
      {[...stacked.spools].reverse().map((s) => (
        <div key={s.name} className="flex items-center gap-2 border-b border-dotted border-line py-1">
          <Swatch colour={s.colour} size={14} />
          <dt className="min-w-0 flex-1 truncate">{s.name}</dt>
          <dd className="figure shrink-0 text-soft">
            {s.layers[0] === s.layers[1] ? s.layers[0] : `${s.layers[0]}–${s.layers[1]}`} · {s.span_mm[1].toFixed(2)} mm
          </dd>
        </div>
      ))}
    </dl>
  );
}

function Tones({ stacked }: { stacked: StackedView }) {
  const all = stacked.tones.reduce((sum, t) => sum + t.area_mm2, 0);
  const shown = stacked.tones.filter((t) => t.area_mm2 > 0.002 * all);
  return (
    <section aria-label="Tones">
      <h2 className="heading pb-1.5">Tones</h2>
      <div className="flex h-6 overflow-hidden rounded-[3px]" role="img" aria-label={`${shown.length} tones by area`}>
        {shown.map((t) => (
          <span
            key={t.layers}
            style={{ background: t.colour, flexGrow: t.area_mm2 }}
            title={`${t.layers} layers, ${Math.round((100 * t.area_mm2) / all)} %`}
          />
        ))}
      </div>
    </section>
  );
}
