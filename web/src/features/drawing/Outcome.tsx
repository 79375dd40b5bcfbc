import type { DrawnBodies } from "../../api/generated/DrawnBodies";
import { Button } from "../../ui/Button";
import { count } from "../../ui/format";
import type { OnTable } from "./useDrawing";

/** What it comes to: cut through, how high, what is too thin, and the way on. */
export function Outcome({ table }: { table: OnTable }) {
  const { bodies, work, refused } = table;
  const thin = bodies?.thin ?? [];
  return (
    <aside className="flex min-h-0 flex-col gap-4 overflow-y-auto border-l border-line px-5 pb-5 pt-3.5" aria-label="What it comes to">
      <section aria-label="Cut through it">
        <h2 className="heading pb-1.5">Cut through the middle</h2>
        {bodies && <CutThrough bodies={bodies} />}
      </section>
      {bodies && (
        <section aria-label="Together">
          <p className="figure text-[19px] font-semibold">{bodies.height_mm.toFixed(2)} mm high</p>
          <p className="figure text-soft">
            {bodies.bodies.length === 1 ? "1 body" : `${bodies.bodies.length} bodies`} · {count(bodies.facets)} facets
          </p>
          <dl className="mt-1.5 border-t border-line">
            {bodies.bodies.map((b, i) => (
              <div key={i} className="flex items-baseline justify-between gap-3 border-b border-dotted border-line py-1">
                <dt className="min-w-0 truncate" title={b.name}>
                  {b.name}
                </dt>
                <dd className="figure shrink-0 text-soft">{(b.volume_mm3 / 1000).toFixed(2)} cm³</dd>
              </div>
            ))}
          </dl>
        </section>
      )}
      {thin.length > 0 && bodies && (
        <section aria-label="Too thin" role="status">
          <p className="font-semibold text-wrong">
            {thin.length === 1 ? "1 place is" : `${thin.length} places are`} thinner than a line of {bodies.line_mm} mm
          </p>
          <p className="text-soft">The nozzle cannot lay {thin.length === 1 ? "it as it is" : "them as they are"} drawn.</p>
          <Button kind="link" onClick={() => table.say({ thicken_mm: bodies.line_mm })}>
            Thicken to {bodies.line_mm} mm
          </Button>
        </section>
      )}
      {work?.thicken_mm != null && (
        <section aria-label="Thickened">
          <p className="text-soft">
            <span className="text-fine" aria-hidden>
              ✓{" "}
            </span>
            Nothing is thinner than {work.thicken_mm} mm.
          </p>
          <Button kind="link" onClick={() => table.say({ thicken_mm: null })}>
            Leave it as drawn
          </Button>
        </section>
      )}
      {refused && (
        <p role="alert">
          <span className="text-wrong">✕ {refused.message}.</span> <span className="text-soft">{refused.mend}</span>
        </p>
      )}
      <div className="flex gap-2">
        <Button kind="main" disabled={!bodies || !!refused || table.isMaking} onClick={() => void table.make()}>
          Make the bodies
        </Button>
        <Button onClick={table.leave}>Leave it</Button>
      </div>
    </aside>
  );
}

/** A cut along the middle, ten times as high as it is. */
function CutThrough({ bodies }: { bodies: DrawnBodies }) {
  const [low, high] = bodies.bounds_mm;
  const across = Math.max(high[0] - low[0], 1e-3);
  const tall = 72;
  const wide = 226;
  const x = (mm: number) => ((mm - low[0]) / across) * wide;
  const y = (mm: number) => tall - (mm / Math.max(bodies.height_mm, 1e-3)) * (tall - 8);
  return (
    <svg width={246} height={tall + 26} className="bg-bench" role="img" aria-label="A cut through the middle, heights stretched">
      <g transform="translate(10 2)">
        {bodies.bodies.flatMap((b, i) =>
          b.cut.map(([from, to], k) => (
            <rect
              key={`${i} ${k}`}
              x={x(from)}
              width={Math.max(x(to) - x(from), 0.5)}
              y={y(b.span_mm[1])}
              height={y(b.span_mm[0]) - y(b.span_mm[1])}
              fill={b.colour}
            />
          )),
        )}
        <line x1={0} x2={wide} y1={tall} y2={tall} stroke="var(--color-faint)" />
        <text x={0} y={tall + 16} fontSize={11} fill="var(--color-soft)">
          bed
        </text>
        <text x={wide} y={tall + 16} fontSize={11} fill="var(--color-soft)" textAnchor="end">
          heights stretched
        </text>
      </g>
    </svg>
  );
}
