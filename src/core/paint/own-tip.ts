/** Tips of one's own, made of pictures: what of a picture is dark touches. */

/** Pixels of a side. */
export const OWN_TIP_SIDE = 128
const BEGINS = 'own:'
/** Of an opaque picture this much about its border is looked at to tell what its ground is. */
const BORDER = 2

/** Whether a tip is one of one's own, and no kind of tip. */
export const isOwnTip = (tip: string): boolean => tip.startsWith(BEGINS)

/**
 * What of a picture touches, 0…255: what is there, and is unlike its ground. A picture that is not opaque tells by its alpha and its
 * darkness; an opaque one by how far it is from the tone of its border.
 * @param rgba straight 8-bit, 4·{@link OWN_TIP_SIDE}².
 */
export function tipOfPicture(rgba: Uint8ClampedArray): Uint8Array {
  const n = OWN_TIP_SIDE
  const out = new Uint8Array(n * n)
  const tone = (i: number) => 0.3 * rgba[4 * i] + 0.59 * rgba[4 * i + 1] + 0.11 * rgba[4 * i + 2]
  let isOpaque = true
  for (let i = 0; i < n * n; i++) if (rgba[4 * i + 3] < 250) isOpaque = false
  if (!isOpaque) {
    for (let i = 0; i < n * n; i++) out[i] = Math.round((rgba[4 * i + 3] * (255 - tone(i))) / 255)
    // A light shape on nothing is a shape all the same.
    if (Math.max(...out) < 16) for (let i = 0; i < n * n; i++) out[i] = rgba[4 * i + 3]
    return out
  }
  const border: number[] = []
  for (let y = 0; y < n; y++)
    for (let x = 0; x < n; x++)
      if (Math.min(x, y, n - 1 - x, n - 1 - y) < BORDER) border.push(tone(y * n + x))
  border.sort((a, b) => a - b)
  const ground = border[border.length >> 1]
  let most = 1
  for (let i = 0; i < n * n; i++) most = Math.max(most, Math.abs(tone(i) - ground))
  for (let i = 0; i < n * n; i++) out[i] = Math.round((255 * Math.abs(tone(i) - ground)) / most)
  return out
}

/** A tip as a word that brushes keep, its numbers and all: two hexadecimal digits each. @param values {@link OWN_TIP_SIDE}² numbers. */
export const ownTip = (values: Uint8Array): string =>
  BEGINS + Array.from(values, (value) => value.toString(16).padStart(2, '0')).join('')

/** Numbers of a tip of one's own, 0…1; null where it is none, or broken. */
export function readOwnTip(tip: string): Float32Array | null {
  const text = tip.slice(BEGINS.length)
  if (!isOwnTip(tip) || text.length !== 2 * OWN_TIP_SIDE ** 2 || !/^[0-9a-f]*$/.test(text)) return null
  const out = new Float32Array(OWN_TIP_SIDE ** 2)
  for (let i = 0; i < out.length; i++) out[i] = parseInt(text.slice(2 * i, 2 * i + 2), 16) / 255
  return out
}
