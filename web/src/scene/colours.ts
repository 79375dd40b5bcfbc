import { Color, SRGBColorSpace } from "three";

/** The one place where sRGB text becomes the linear light the shaders work in. */
export function linear(hex: string): [number, number, number] {
  const c = new Color().setStyle(hex, SRGBColorSpace);
  return [c.r, c.g, c.b];
}
