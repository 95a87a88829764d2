import { parseArgs } from 'node:util'
import type { Vec3 } from '@/core/math/vec3'
import type { Bounds } from '@/core/geometry/bounds'
import type { Camera, Frame, PointSource } from '@/core/scene/camera'
import { cameraBasis, framePoints, frameSchema, plainLens } from '@/core/scene/camera'
import { EFFORTS, type EffortName } from '@/core/passes/effort'
import { UsageError } from './usage-error'

type OptionType = { type: 'string' | 'boolean'; multiple?: boolean }

/** Options in any order, everything else is an input. @throws {UsageError} naming the option. */
export function parseOptions<O extends Record<string, OptionType>>(argv: readonly string[], options: O) {
  try {
    return parseArgs({ args: joinNegatives(argv, options), options, allowPositionals: true, strict: true })
  } catch (error) {
    throw new UsageError(error instanceof Error ? error.message : String(error))
  }
}

/** `--view -30,20`: a value that begins with a minus sign is joined to its option, so it is not taken for one. */
function joinNegatives(argv: readonly string[], options: Record<string, OptionType>): string[] {
  const out: string[] = []
  for (let i = 0; i < argv.length; i++) {
    const next = argv[i + 1]
    const isOption = argv[i].startsWith('--') && options[argv[i].slice(2)]?.type === 'string'
    if (isOption && next !== undefined && /^-[\d.]/.test(next)) {
      out.push(`${argv[i]}=${next}`)
      i++
    } else out.push(argv[i])
  }
  return out
}

export function numbers(text: string, count: number, option: string): number[] {
  const values = text.split(',').map((v) => (v.trim() === '' ? NaN : Number(v)))
  if (values.length !== count || values.some((v) => !Number.isFinite(v))) {
    throw new UsageError(`--${option} takes ${count} number(s) separated by commas (got "${text}")`)
  }
  return values
}

export function wholeNumber(text: string, option: string, min: number, max: number): number {
  const value = text.trim() === '' ? NaN : Number(text)
  if (!Number.isInteger(value) || value < min || value > max) {
    throw new UsageError(`--${option} takes a whole number from ${min} to ${max} (got "${text}")`)
  }
  return value
}

/** A whole number that may be left out: null then. @throws {UsageError} naming the option. */
export const wholeOption = (
  text: string | undefined,
  option: string,
  min: number,
  max: number,
): number | null => (text === undefined ? null : wholeNumber(text, option, min, max))

/** How carefully passes are rendered. @param also what else the option takes. @throws {UsageError} */
export const qualityNamed = (name: string, also: readonly string[] = []): EffortName => {
  const found = EFFORTS.find((own) => own === name)
  if (!found) throw new UsageError(`--quality takes ${[...EFFORTS, ...also].join(', ')} (got "${name}")`)
  return found
}

export function parseSize(text: string): Frame {
  const match = /^(\d+)x(\d+)$/i.exec(text)
  const parsed = frameSchema.safeParse(match && { width: Number(match[1]), height: Number(match[2]) })
  if (!parsed.success)
    throw new UsageError(`--size takes WIDTHxHEIGHT, each 16 to 16384 pixels (got "${text}")`)
  return parsed.data
}

export const cameraOptions = {
  view: { type: 'string' },
  eye: { type: 'string' },
  target: { type: 'string' },
  fov: { type: 'string' },
  ortho: { type: 'string' },
} as const

export interface CameraValues {
  view?: string
  eye?: string
  target?: string
  fov?: string
  ortho?: string
}

/** Whether any camera option was given. */
export const hasCamera = (v: CameraValues): boolean => v.view !== undefined || v.eye !== undefined

/** The camera the options ask for; without any, the subject from the front left, a little above. */
export function cameraFrom(
  values: CameraValues,
  subject: { readonly bounds: Bounds; readonly points: PointSource },
  frame: Frame,
): Camera {
  const { bounds, points } = subject
  const fovDeg = values.fov === undefined ? 30 : numbers(values.fov, 1, 'fov')[0]
  if (!(fovDeg >= 1 && fovDeg <= 150))
    throw new UsageError(`--fov takes 1 to 150 degrees (got "${values.fov}")`)
  const orthoHeight = values.ortho === undefined ? null : numbers(values.ortho, 1, 'ortho')[0]
  if (orthoHeight !== null && !(orthoHeight > 0))
    throw new UsageError(`--ortho takes a height above 0 (got "${values.ortho}")`)
  if (values.eye !== undefined) {
    if (values.view !== undefined) throw new UsageError('give either --view or --eye, not both')
    const eye = numbers(values.eye, 3, 'eye')
    const centre = bounds.min.map((v, axis) => (v + bounds.max[axis]) / 2)
    const target = values.target === undefined ? centre : numbers(values.target, 3, 'target')
    const camera: Camera = {
      eye: eye as unknown as Vec3,
      target: target as unknown as Vec3,
      fovDeg,
      orthoHeight,
    }
    try {
      cameraBasis(camera, frame)
    } catch {
      throw new UsageError('--eye and --target must differ')
    }
    return camera
  }
  if (values.target !== undefined) throw new UsageError('--target goes with --eye')
  const [azimuth, elevation] = values.view === undefined ? [-30, 18] : numbers(values.view, 2, 'view')
  const camera = framePoints(points, azimuth, elevation, frame, plainLens(fovDeg, orthoHeight !== null))
  return orthoHeight === null ? camera : { ...camera, orthoHeight }
}
