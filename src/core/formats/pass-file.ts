import { inkStrokes } from '../lines/ink-strokes'
import { writeExr, type ExrChannel } from './exr'
import { writePassExr } from './pass-exr'
import { writePng } from './png'
import type { ParamValues } from '../params'
import { passPicture, passStrokes } from '../passes/pass-picture'
import type { PassResult } from '../passes/pass-result'
import { premultiplied, toStraight16, toStraight8 } from '../picture/rgba-picture'

export const PASS_FORMATS = ['png', 'png16', 'exr'] as const
export type PassFormat = (typeof PASS_FORMATS)[number]

/** A rendered pass as a file. */
export function passFile(result: PassResult, look: ParamValues, format: PassFormat): Uint8Array {
  const { width, height } = result
  if (format === 'exr') {
    const coverage = lineCoverage(result, look)
    return coverage ? writeExr(width, height, [coverage]) : writePassExr(result)
  }
  const picture = premultiplied(passPicture(result, look))
  return writePng(width, height, format === 'png16' ? toStraight16(picture) : toStraight8(picture))
}

/** Lines are coverage; it goes out under the name that coverage has everywhere. Null for other passes. */
export function lineCoverage(result: PassResult, look: ParamValues): ExrChannel | null {
  const strokes = passStrokes(result, look)
  if (!strokes) return null
  const { width, height } = result
  const inked = inkStrokes(strokes, { x: 0, y: 0, width, height }, height, width)
  return {
    name: 'A',
    type: 'float',
    data: Float32Array.from({ length: width * height }, (_, i) => inked[4 * i + 3]),
  }
}
