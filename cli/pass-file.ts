import { inkStrokes } from '@/core/lines/ink-strokes'
import { writeExr } from '@/core/formats/exr'
import { writePassExr } from '@/core/formats/pass-exr'
import { writePng } from '@/core/formats/png'
import type { ParamValues } from '@/core/params'
import { passPicture, passStrokes } from '@/core/passes/pass-picture'
import type { PassResult } from '@/core/passes/pass-result'
import { premultiplied, toStraight16, toStraight8 } from '@/core/picture/rgba-picture'

export const PASS_FORMATS = ['png', 'png16', 'exr'] as const
export type PassFormat = (typeof PASS_FORMATS)[number]

/** A rendered pass as a file. */
export function passFile(result: PassResult, look: ParamValues, format: PassFormat): Uint8Array {
  const { width, height } = result
  if (format === 'exr') {
    // Lines are coverage; it goes out under the name coverage has everywhere.
    const strokes = passStrokes(result, look)
    if (!strokes) return writePassExr(result)
    const inked = inkStrokes(strokes, { x: 0, y: 0, width, height }, height, width)
    const values = Float32Array.from({ length: width * height }, (_, i) => inked[4 * i + 3])
    return writeExr(width, height, [{ name: 'A', type: 'float', data: values }])
  }
  const picture = premultiplied(passPicture(result, look))
  return writePng(width, height, format === 'png16' ? toStraight16(picture) : toStraight8(picture))
}
