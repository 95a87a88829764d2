/** IEEE 754 binary16 to and from numbers, by tables (van der Zijp 2008, "Fast Half Float Conversions"). */
const scratchFloat = new Float32Array(1)
const scratchInt = new Uint32Array(scratchFloat.buffer)

const halfToFloatTable = new Float32Array(65536)
for (let h = 0; h < 65536; h++) {
  const sign = h & 0x8000 ? -1 : 1
  const exponent = (h >>> 10) & 31
  const mantissa = h & 1023
  halfToFloatTable[h] =
    exponent === 0
      ? sign * mantissa * 2 ** -24
      : exponent === 31
        ? mantissa
          ? NaN
          : sign * Infinity
        : sign * (1 + mantissa / 1024) * 2 ** (exponent - 15)
}

/** The number a half's 16 bits stand for. */
export const halfToFloat = (half: number): number => halfToFloatTable[half]

/** The nearest half (ties to even); beyond ±65504 gives ±Infinity. */
export function floatToHalf(value: number): number {
  scratchFloat[0] = value
  const bits = scratchInt[0]
  const sign = (bits >>> 16) & 0x8000
  const exponent = (bits >>> 23) & 255
  let mantissa = bits & 0x7fffff
  if (exponent === 255) return sign | 0x7c00 | (mantissa ? 0x200 : 0)
  const shifted = exponent - 112
  if (shifted >= 31) return sign | 0x7c00
  if (shifted <= 0) {
    if (shifted < -10) return sign
    mantissa |= 0x800000
    const shift = 14 - shifted
    const half = mantissa >>> shift
    const rest = mantissa & ((1 << shift) - 1)
    const middle = 1 << (shift - 1)
    return sign | (half + (rest > middle || (rest === middle && half & 1) ? 1 : 0))
  }
  const half = (shifted << 10) | (mantissa >>> 13)
  const rest = mantissa & 0x1fff
  // A carry out of the mantissa runs into the exponent, which is what rounding up means there.
  return sign | (half + (rest > 0x1000 || (rest === 0x1000 && half & 1) ? 1 : 0))
}

/** Many numbers at once; see {@link floatToHalf}. */
export function floatsToHalves(values: Float32Array, out: Uint16Array): void {
  const bits = new Uint32Array(values.buffer, values.byteOffset, values.length)
  for (let i = 0; i < values.length; i++) {
    const size = bits[i] & 0x7fffffff
    if (size === 0) out[i] = bits[i] >>> 16
    // Between 2⁻¹⁴ and 65504 the exponent is only moved; what is cut off rounds, ties to even.
    else if (size >= 0x38800000 && size < 0x477ff000)
      out[i] = ((bits[i] >>> 16) & 0x8000) | ((size - 0x38000000 + 0xfff + ((size >>> 13) & 1)) >>> 13)
    else out[i] = floatToHalf(values[i])
  }
}
