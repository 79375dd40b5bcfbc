/** A square of a colour, with a border that shows on any ground. */
export function Swatch({ colour, size = 26, title }: { colour: string; size?: number; title?: string }) {
  return (
    <span
      className="inline-block shrink-0 rounded-[4px] border border-black/25"
      style={{ background: colour, width: size, height: size }}
      title={title ?? colour}
      aria-hidden
    />
  );
}
