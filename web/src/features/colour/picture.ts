import type { Picture } from "../../api/generated/Picture";

/** Longest side of a pinned picture, px: more than is ever shown. */
const longest = 900;

/** A picture file made small enough to be kept; none if it is no picture. */
export async function asPicture(file: File): Promise<Picture | null> {
  const url = URL.createObjectURL(file);
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const scale = Math.min(1, longest / Math.max(image.naturalWidth, image.naturalHeight, 1));
    const canvas = document.createElement("canvas");
    canvas.width = Math.max(1, Math.round(image.naturalWidth * scale));
    canvas.height = Math.max(1, Math.round(image.naturalHeight * scale));
    canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
    return { name: file.name, data: canvas.toDataURL("image/png") };
  } catch {
    return null;
  } finally {
    URL.revokeObjectURL(url);
  }
}

/** The colour of a picture at a place, as the mean of the pixels around it; place in shares of its sides. */
export function colourAt(image: HTMLImageElement, x: number, y: number): string {
  const canvas = document.createElement("canvas");
  const [w, h] = [image.naturalWidth, image.naturalHeight];
  canvas.width = w;
  canvas.height = h;
  const context = canvas.getContext("2d", { willReadFrequently: true });
  if (!context) return "#808080";
  context.drawImage(image, 0, 0);
  const [left, top] = [Math.max(0, Math.floor(x * w) - 1), Math.max(0, Math.floor(y * h) - 1)];
  const pixels = context.getImageData(left, top, Math.min(3, w - left), Math.min(3, h - top)).data;
  const sum = [0, 0, 0];
  for (let i = 0; i < pixels.length; i += 4) for (let k = 0; k < 3; k++) sum[k] = (sum[k] ?? 0) + (pixels[i + k] ?? 0);
  const count = Math.max(1, pixels.length / 4);
  return `#${sum
    .map((s) =>
      Math.round(s / count)
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;
}
