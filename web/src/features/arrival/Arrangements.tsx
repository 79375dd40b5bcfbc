import type { Arrangement } from "../../api/generated/Arrangement";
import type { Arriving } from "./useArrival";

type Outline = [number, number][];

const shades = ["#8d9094", "#b9bbbe", "#6f7276", "#a4a7aa", "#c9cbcd", "#5d6064"];

/** The two ways files can stand to each other, each drawn from their real outlines. */
export function Arrangements({ files, onChoose }: { files: Arriving[]; onChoose: (how: Arrangement) => void }) {
  const outlines = files.flatMap((f) => (f.state.state === "ready" ? [f.state.outline as Outline] : []));
  return (
    <div className="grid grid-cols-2 gap-3">
      <Choice
        name="One thing"
        why="Parts stay where their files have them."
        outlines={outlines}
        onClick={() => onChoose("together")}
        isMain
      />
      <Choice name="Separate models" why="Side by side on the bed." outlines={sideBySide(outlines)} onClick={() => onChoose("apart")} />
    </div>
  );
}

function Choice({
  name,
  why,
  outlines,
  onClick,
  isMain,
}: {
  name: string;
  why: string;
  outlines: Outline[];
  onClick: () => void;
  isMain?: boolean;
}) {
  const points = outlines.flat();
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const [left, right] = [Math.min(...xs), Math.max(...xs)];
  const [low, high] = [Math.min(...ys), Math.max(...ys)];
  const side = Math.max((right - left) / 2, high - low, 1e-6);
  const line = side / 90;
  return (
    <button
      type="button"
      autoFocus={isMain}
      onClick={onClick}
      className="group border border-line bg-sheet text-left hover:border-plum focus-visible:border-plum"
    >
      <svg
        viewBox={`${(left + right) / 2 - side} ${-(low + high) / 2 - side / 2} ${2 * side} ${side}`}
        className="h-36 w-full bg-bench p-3"
        role="img"
        aria-label={`${name}: ${why}`}
      >
        {outlines.map((outline, i) => (
          <polygon
            key={i}
            points={outline.map(([x, y]) => `${x},${-y}`).join(" ")}
            fill={shades[i % shades.length]}
            stroke="#3c3e41"
            strokeWidth={line}
            strokeLinejoin="round"
            fillOpacity={0.85}
          />
        ))}
      </svg>
      <span className="block px-3 pb-2.5 pt-2">
        <span className="block font-semibold group-hover:text-plum">{name}</span>
        <span className="block text-soft">{why}</span>
      </span>
    </button>
  );
}

/** The outlines in a row, each with its foot on one line. */
function sideBySide(outlines: Outline[]): Outline[] {
  const width = (o: Outline) => Math.max(...o.map((p) => p[0])) - Math.min(...o.map((p) => p[0]));
  const gap = 0.12 * Math.max(...outlines.map(width), 1e-6);
  let at = 0;
  return outlines.map((o) => {
    const left = Math.min(...o.map((p) => p[0]));
    const low = Math.min(...o.map((p) => p[1]));
    const shifted = o.map(([x, y]): [number, number] => [x - left + at, y - low]);
    at += width(o) + gap;
    return shifted;
  });
}
