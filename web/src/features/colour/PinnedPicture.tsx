import { X } from "lucide-react";
import { useRef, useState } from "react";
import type { JobView } from "../../api/generated/JobView";
import { useChanges, useDesk, useDeskChanges } from "../../api/queries";
import { useBench } from "../../state/bench";
import { colourAt } from "./picture";

/** The picture pinned beside the bench; a click on it gives the colour there to the chosen region. */
export function PinnedPicture({ job }: { job: JobView }) {
  const desk = useDesk(job.id);
  const { setDesk } = useDeskChanges(job.id);
  const { edit } = useChanges(job.id);
  const region = useBench((s) => s.region);
  const image = useRef<HTMLImageElement>(null);
  const [under, setUnder] = useState<string | null>(null);
  const picture = desk.data?.picture;
  const name = job.regions.find((r) => r.key === region)?.name ?? "the region";
  if (!picture) return null;
  const at = (e: { clientX: number; clientY: number }) => {
    const box = image.current?.getBoundingClientRect();
    if (!box || !image.current) return null;
    return colourAt(image.current, (e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height);
  };
  return (
    <figure
      className="absolute left-3.5 top-10 w-[168px] border border-line bg-sheet p-1.5 shadow-[0_1px_4px_rgb(0_0_0/0.14)]"
      aria-label="Pinned picture"
    >
      <img
        ref={image}
        src={picture.data}
        alt={`Reference ${picture.name}`}
        title={`Click a colour to give it to ${name}`}
        className="block max-h-40 w-full cursor-crosshair object-contain"
        onPointerMove={(e) => setUnder(at(e))}
        onPointerLeave={() => setUnder(null)}
        onClick={(e) => {
          const colour = at(e);
          if (colour) edit({ edit: "recolour-region", region, colour });
        }}
      />
      <figcaption className="mt-1 flex items-center gap-1.5 text-[11px] text-soft">
        {under ? (
          <>
            <span className="size-3 shrink-0 border border-black/25" style={{ background: under }} />
            <span className="figure min-w-0 flex-1">{under}</span>
          </>
        ) : (
          <span className="min-w-0 flex-1 truncate" title={picture.name}>
            {picture.name}
          </span>
        )}
        <button
          type="button"
          aria-label="Take the picture down"
          title="Take the picture down"
          className="hover:text-wrong"
          onClick={() => setDesk({ ticked: [], view: null, ...desk.data, picture: null })}
        >
          <X size={13} />
        </button>
      </figcaption>
    </figure>
  );
}
