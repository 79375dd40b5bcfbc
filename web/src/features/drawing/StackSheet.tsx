import { useEffect, useRef } from "react";
import type { StackedView } from "../../api/generated/StackedView";

/** The picture beside what is predicted of it. */
export function StackSheet({ stacked, isBusy }: { stacked: StackedView; isBusy: boolean }) {
  const [w, h] = stacked.preview;
  return (
    <div className="absolute inset-0 flex flex-col items-center justify-center gap-5 overflow-hidden px-8 pb-20 pt-6">
      <div className={`flex min-h-0 w-full flex-1 items-center justify-center gap-6 ${w > h ? "flex-col" : ""}`}>
        <Small name="The picture" pixels={stacked.wanted} size={stacked.preview} />
        <Small name="As it will print" pixels={stacked.predicted} size={stacked.preview} />
      </div>
      <p className="figure text-soft" role="status">
        {isBusy
          ? "Looking for the best stack"
          : `${stacked.size_mm[0].toFixed(1)} × ${stacked.size_mm[1].toFixed(1)} mm, ${stacked.tones.filter((t) => t.area_mm2 > 0.01).length} tones from ${stacked.spools.length} spools`}
      </p>
    </div>
  );
}

function Small({ name, pixels, size }: { name: string; pixels: string; size: [number, number] }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [w, h] = size;
  useEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!context) return;
    const image = context.createImageData(w, h);
    for (let i = 0; i < w * h; i++) {
      const rgb = parseInt(pixels.slice(6 * i, 6 * i + 6), 16);
      image.data.set([rgb >> 16, (rgb >> 8) & 255, rgb & 255, 255], 4 * i);
    }
    context.putImageData(image, 0, 0);
  }, [pixels, w, h]);
  return (
    <figure className="flex min-h-0 w-full min-w-0 flex-1 flex-col items-center gap-2">
      <canvas
        ref={canvas}
        width={w}
        height={h}
        role="img"
        aria-label={name}
        className="min-h-0 w-full flex-1 object-contain [image-rendering:pixelated]"
      />
      <figcaption className="text-soft">{name}</figcaption>
    </figure>
  );
}
