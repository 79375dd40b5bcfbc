import { count, fixed } from "../../../ui/format";

/** The lengths that a strand is joined from, in the order in which they reach the nozzle. */
export function Strand({ strand, nameOf }: { strand: readonly (readonly [number, number])[]; nameOf: (slot: number) => string }) {
  const whole = strand.reduce((sum, [, mm]) => sum + mm, 0);
  return (
    <>
      <h2 className="mt-6 font-semibold">Strand</h2>
      <p className="mt-1">
        {strand.length === 0
          ? "The lengths are being worked out."
          : `${count(strand.length)} lengths, ${fixed(whole / 1000, 2)} m in all. The first goes into the nozzle.`}
      </p>
      <ol className="mt-1 columns-3 gap-6 border-t border-line pt-1 max-sm:columns-1">
        {strand.map(([slot, mm], i) => (
          <li key={i} className="flex break-inside-avoid gap-2 border-b border-line py-0.5">
            <span className="figure w-8 text-right text-soft">{i + 1}</span>
            <span className="min-w-0 flex-1 truncate">{nameOf(slot)}</span>
            <span className="figure">{fixed(mm, 1)} mm</span>
          </li>
        ))}
      </ol>
    </>
  );
}
