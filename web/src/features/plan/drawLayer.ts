import type { BeadsView } from "../../api/generated/BeadsView";
import type { LayerDrawing } from "../../api/generated/LayerDrawing";
import { cellImage, type Purged } from "../../scene/cellImage";

interface TowerLayer {
  side: number;
  height: number;
  purges: { colour: string; mm3: number }[];
}

const margin = 48;

/** The tower is drawn at this size whatever its own: often it is wider than the model. */
const towerPx = 112;

/** Draws a layer to fit the canvas: cells in their colour within the exact outline, infill as lines, tower beside. */
export function drawLayer(
  canvas: HTMLCanvasElement,
  [width, height]: [number, number],
  data: LayerDrawing,
  colourOf: (region: number) => string,
  tower: TowerLayer | null,
  beads: { view: BeadsView; colourOf: (slot: number) => string } | null,
  purgedOf: (region: number, isInfill: boolean) => Purged,
) {
  const ratio = window.devicePixelRatio || 1;
  canvas.width = Math.round(width * ratio);
  canvas.height = Math.round(height * ratio);
  const g = canvas.getContext("2d");
  if (!g) return;
  g.scale(ratio, ratio);
  g.clearRect(0, 0, width, height);
  const [nx, ny] = data.cells;
  const size: [number, number] = [nx * data.step_mm, ny * data.step_mm];
  const room = tower ? towerPx + 56 : 0;
  const scale = Math.min((width - 2 * margin - room) / size[0], (height - 2 * margin - 14) / size[1]);
  const left = (width - scale * size[0] - room) / 2;
  const middle = height / 2 + 8;
  const px = (x: number) => left + (x - data.origin[0]) * scale;
  const py = (y: number) => middle + (size[1] / 2 - (y - data.origin[1])) * scale;

  const outline = new Path2D();
  for (const ring of data.outlines) {
    ring.forEach(([x, y], i) => (i === 0 ? outline.moveTo(px(x), py(y)) : outline.lineTo(px(x), py(y))));
    outline.closePath();
  }
  if (beads) {
    g.fillStyle = "rgb(255 255 255 / 0.5)";
    g.fill(outline, "evenodd");
    for (const slot of beads.view.slots) drawBeads(g, slot.beads, beads.colourOf(slot.slot), px, py, scale);
    if (tower) drawTower(g, tower, left + scale * size[0] + 56, middle);
    return;
  }
  g.save();
  g.clip(outline, "evenodd");
  g.drawImage(
    cellImage(data, colourOf, true, purgedOf),
    px(data.origin[0]),
    py(data.origin[1] + size[1]),
    size[0] * scale,
    size[1] * scale,
  );
  g.restore();
  g.strokeStyle = "rgb(0 0 0 / 0.45)";
  g.lineWidth = 0.8;
  g.stroke(outline);
  if (tower) drawTower(g, tower, left + scale * size[0] + 56, middle);
}

/** Every bead as wide as it is laid, a little darker at its edge so that neighbours are told apart. */
function drawBeads(
  g: CanvasRenderingContext2D,
  beads: BeadsView["slots"][number]["beads"],
  colour: string,
  px: (x: number) => number,
  py: (y: number) => number,
  scale: number,
) {
  g.lineCap = "round";
  g.lineJoin = "round";
  for (const pass of ["edge", "inside"] as const) {
    g.strokeStyle = pass === "edge" ? "rgb(0 0 0 / 0.55)" : colour;
    for (const { line, is_closed } of beads) {
      const places = is_closed && line[0] ? [...line, line[0]] : line;
      let start = 0;
      while (start < places.length - 1) {
        const width = places[start]?.[2] ?? 0;
        let end = start + 1;
        while (end < places.length - 1 && Math.abs((places[end]?.[2] ?? 0) - width) < 0.01) end++;
        g.beginPath();
        for (const [i, [x, y]] of places.slice(start, end + 1).entries()) {
          if (i === 0) g.moveTo(px(x), py(y));
          else g.lineTo(px(x), py(y));
        }
        g.lineWidth = Math.max(0.6, pass === "edge" ? width * scale : width * scale - 1.6);
        g.stroke();
        start = end;
      }
    }
  }
}

function drawTower(g: CanvasRenderingContext2D, tower: TowerLayer, x: number, middle: number) {
  const side = towerPx;
  const top = middle - side / 2;
  g.fillStyle = "rgb(255 255 255 / 0.35)";
  g.fillRect(x, top, side, side);
  let filled = 0;
  for (const purge of tower.purges) {
    const share = purge.mm3 / tower.height / (tower.side * tower.side);
    g.fillStyle = purge.colour;
    g.fillRect(x, top + filled * side, side, share * side);
    filled += share;
  }
  g.strokeStyle = "#5d5f63";
  g.lineWidth = 1;
  g.strokeRect(x, top, side, side);
  g.fillStyle = "#5d5f63";
  g.font = '12px "Instrument Sans Variable", sans-serif';
  g.textAlign = "center";
  g.fillText("purge tower", x + side / 2, top + side + 17);
  g.fillText(`${tower.side.toFixed(0)} mm square, not to scale`, x + side / 2, top + side + 33);
}
