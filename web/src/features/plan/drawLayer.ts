import type { LayerDrawing } from "../../api/generated/LayerDrawing";
import { cellImage } from "../../scene/cellImage";

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
  g.save();
  g.clip(outline, "evenodd");
  g.drawImage(cellImage(data, colourOf, true), px(data.origin[0]), py(data.origin[1] + size[1]), size[0] * scale, size[1] * scale);
  g.restore();
  g.strokeStyle = "rgb(0 0 0 / 0.45)";
  g.lineWidth = 0.8;
  g.stroke(outline);
  if (tower) drawTower(g, tower, left + scale * size[0] + 56, middle);
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
