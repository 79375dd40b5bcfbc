import type { FlatView } from "../../../api/generated/FlatView";

/** The drawing as it came out flat, in its colours. */
export function FlatPicture({ flat }: { flat: FlatView }) {
  const [w, h] = flat.size_mm;
  const isDrawn = flat.inks.every((i) => i.path !== null);
  if (!isDrawn) return <p className="text-soft">Too fine to be shown here.</p>;
  return (
    <svg
      viewBox={`0 0 ${w} ${h}`}
      role="img"
      aria-label={`${flat.name}, flat`}
      className="max-h-[72px] w-full shrink-0 rounded-[3px] border border-line bg-bench"
      preserveAspectRatio="xMidYMid meet"
    >
      <g transform={`matrix(1 0 0 -1 0 ${h})`}>
        {flat.inks.map((ink, i) => (
          <path key={i} d={ink.path ?? ""} fill={ink.colour} fillRule="evenodd" />
        ))}
      </g>
    </svg>
  );
}
