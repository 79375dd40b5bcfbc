import type { Printer } from "../../api/generated/Printer";

/** The head from the side, to scale as far as it fits: nozzle, duct, head and rails over the bed. */
export function HeadSketch({ printer }: { printer: Printer }) {
  const [width, height] = [300, 92];
  const [middle, bed] = [width / 2, height - 8];
  const widest = Math.max(printer.duct_radius_mm, printer.head_radius_mm, 10);
  const highest = Math.max(printer.duct_above_mm, printer.head_above_mm, printer.rails_above_mm, 10);
  const across = (mm: number) => (0.4 * width * mm) / widest;
  const up = (mm: number) => bed - ((height - 26) * Math.min(mm, highest)) / highest;
  const block = (radius: number, low: number, high: number) => (
    <rect x={middle - across(radius)} y={up(high)} width={2 * across(radius)} height={Math.max(up(low) - up(high), 1)} />
  );
  const [duct, head, rails] = [printer.duct_above_mm, printer.head_above_mm, printer.rails_above_mm];
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="mt-1 w-full max-w-[340px]"
      role="img"
      aria-label="Head, duct and rails from the side"
    >
      <g className="fill-line stroke-soft">
        <rect x={6} y={up(rails) - 6} width={width - 12} height={6} />
        {block(printer.head_radius_mm, head, Math.max(head, 0.92 * rails))}
        {block(printer.duct_radius_mm, duct, Math.max(duct, head))}
      </g>
      <path d={`M${middle} ${bed} l5 ${up(duct) - bed} h-10 z`} className="fill-ink" />
      <path d={`M6 ${bed + 0.5} H${width - 6}`} className="stroke-ink" strokeWidth={1.5} />
    </svg>
  );
}
