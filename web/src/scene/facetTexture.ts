import { DataTexture, NearestFilter, RedIntegerFormat, UnsignedIntType } from "three";

const width = 2048;

/** One number per facet, read in the shader by facet number. */
export function facetTexture(facets: number): DataTexture {
  const height = Math.max(1, Math.ceil(facets / width));
  const texture = new DataTexture(new Uint32Array(width * height), width, height, RedIntegerFormat, UnsignedIntType);
  texture.internalFormat = "R32UI";
  texture.minFilter = NearestFilter;
  texture.magFilter = NearestFilter;
  // Even an empty one must reach the card: a shader that reads integers draws nothing without.
  texture.needsUpdate = true;
  return texture;
}

export function fill(texture: DataTexture, values: ArrayLike<number>) {
  const data = texture.image.data as Uint32Array;
  data.set(values);
  texture.needsUpdate = true;
}
