/** A picture in display values with straight alpha. Float32Array, 4·width·height, 0…1. */
export interface RgbaPicture {
  readonly width: number
  readonly height: number
  readonly pixels: Float32Array
}

/** 8-bit straight RGBA to a picture. */
export function fromRgba8(bytes: Uint8Array | Uint8ClampedArray, width: number, height: number): RgbaPicture {
  const pixels = new Float32Array(4 * width * height)
  for (let i = 0; i < pixels.length; i++) pixels[i] = bytes[i] / 255
  return { width, height, pixels }
}

/** Premultiplied floats to straight 8-bit RGBA, for a canvas or a PNG. */
export function toStraight8(premultiplied: Float32Array): Uint8ClampedArray<ArrayBuffer> {
  const out = new Uint8ClampedArray(premultiplied.length)
  for (let i = 0; i < out.length; i += 4) {
    const alpha = premultiplied[i + 3]
    const k = alpha > 0 ? 255 / alpha : 0
    out[i] = premultiplied[i] * k
    out[i + 1] = premultiplied[i + 1] * k
    out[i + 2] = premultiplied[i + 2] * k
    out[i + 3] = alpha * 255
  }
  return out
}

/** Premultiplied floats to straight 16-bit RGBA. */
export function toStraight16(premultiplied: Float32Array): Uint16Array<ArrayBuffer> {
  const out = new Uint16Array(premultiplied.length)
  const clamp = (v: number) => Math.min(65535, Math.max(0, v)) + 0.5
  for (let i = 0; i < out.length; i += 4) {
    const alpha = premultiplied[i + 3]
    const k = alpha > 0 ? 65535 / alpha : 0
    out[i] = clamp(premultiplied[i] * k)
    out[i + 1] = clamp(premultiplied[i + 1] * k)
    out[i + 2] = clamp(premultiplied[i + 2] * k)
    out[i + 3] = clamp(alpha * 65535)
  }
  return out
}

/** Straight to premultiplied or back is one multiplication; this one copies and premultiplies. */
export function premultiplied(picture: RgbaPicture): Float32Array {
  const out = new Float32Array(picture.pixels)
  for (let i = 0; i < out.length; i += 4) {
    out[i] *= out[i + 3]
    out[i + 1] *= out[i + 3]
    out[i + 2] *= out[i + 3]
  }
  return out
}
