import type { LayerDrawing } from "../api/generated/LayerDrawing";
import { rgb } from "./beads/colours";

/** What of a region is printed of purge: a colour, and its share. */
export type Purged = [colour: string, share: number][];

/**
 * The cells as a picture, one pixel a cell, top row first; sparse infill shows as slanted lines if that is wanted. What is printed
 * of purge is striped in its colours.
 */
export function cellImage(
  data: LayerDrawing,
  colourOf: (region: number) => string,
  hasInfill: boolean,
  purgedOf: (region: number, isInfill: boolean) => Purged = () => [],
): HTMLCanvasElement {
  const [nx, ny] = data.cells;
  const image = new ImageData(nx, ny);
  const stripes = Math.max(6, Math.round(3 / data.step_mm));
  const lines = Math.max(4, Math.round(2.2 / data.step_mm));
  let cell = 0;
  for (const run of data.runs) {
    if (run.kind === "empty") {
      cell += run.count;
      continue;
    }
    const own = rgb(colourOf(run.region));
    const purged = purgedOf(run.region, run.kind === "infill").map(([colour, share]) => [rgb(colour), share] as const);
    for (let i = 0; i < run.count; i++, cell++) {
      const x = cell % nx;
      const y = Math.floor(cell / nx);
      const isGap =
        run.kind === "unprinted" ? (x + y) % 4 > 0 : hasInfill && run.kind === "infill" && (x + y) % lines >= Math.max(1, lines * 0.22);
      // Too thin for its own slot: fine dark hatching over what prints instead.
      const isHatched = run.kind === "too-thin" && (x - y + ny) % 4 === 0;
      let shown: readonly number[] = own;
      if (purged.length > 0) {
        let place = ((x + 2 * y) % stripes) / stripes;
        for (const [colour, share] of purged) {
          if (place >= 0 && place < share) shown = colour;
          place -= share;
        }
      }
      const at = 4 * ((ny - 1 - y) * nx + x);
      for (let c = 0; c < 3; c++) {
        const v = shown[c] ?? 0;
        image.data[at + c] = isHatched ? 0.35 * v : isGap ? 0.28 * v + 0.72 * 216 : run.kind === "wall" ? v * 0.93 : v;
      }
      image.data[at + 3] = 255;
    }
  }
  const canvas = document.createElement("canvas");
  canvas.width = nx;
  canvas.height = ny;
  canvas.getContext("2d")?.putImageData(image, 0, 0);
  return canvas;
}
