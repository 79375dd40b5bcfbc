import type { LayerDrawing } from "../api/generated/LayerDrawing";

/** The cells as a picture, one pixel a cell, top row first; sparse infill shows as slanted lines if that is wanted. */
export function cellImage(data: LayerDrawing, colourOf: (region: number) => string, hasInfill: boolean): HTMLCanvasElement {
  const [nx, ny] = data.cells;
  const image = new ImageData(nx, ny);
  const lines = Math.max(4, Math.round(2.2 / data.step_mm));
  let cell = 0;
  for (const run of data.runs) {
    if (run.kind === "empty") {
      cell += run.count;
      continue;
    }
    const hex = parseInt(colourOf(run.region).slice(1), 16);
    const rgb = [(hex >> 16) & 255, (hex >> 8) & 255, hex & 255];
    for (let i = 0; i < run.count; i++, cell++) {
      const x = cell % nx;
      const y = Math.floor(cell / nx);
      const isGap =
        run.kind === "unprinted" ? (x + y) % 4 > 0 : hasInfill && run.kind === "infill" && (x + y) % lines >= Math.max(1, lines * 0.22);
      // Too thin for its own slot: fine dark hatching over what prints instead.
      const isHatched = run.kind === "too-thin" && (x - y + ny) % 4 === 0;
      const at = 4 * ((ny - 1 - y) * nx + x);
      for (let c = 0; c < 3; c++) {
        const v = rgb[c] ?? 0;
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
