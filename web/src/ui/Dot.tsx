/** A small round of a colour, beside a name that says which. */
export function Dot({ colour, className = "" }: { colour: string; className?: string }) {
  return (
    <span
      className={`inline-block size-2.5 shrink-0 rounded-full border border-black/30 ${className}`}
      style={{ background: colour }}
      aria-hidden
    />
  );
}
