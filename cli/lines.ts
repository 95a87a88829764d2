import { writeSvgLines } from '@/core/formats/svg-lines'
import { DEFAULT_LINE_SETTING, findLines } from '@/core/lines/find-lines'
import { LINE_KINDS, type LineKind } from '@/core/lines/line-kinds'
import { LINE_STYLES, lineStyleSchema, type LineStyle } from '@/core/lines/line-style'
import type { LineLight } from '@/core/lines/shadow-lines'
import { strokeLines } from '@/core/lines/stroke-lines'
import { directionFrom } from '@/core/scene/camera'
import { numbers, parseOptions } from './arguments'
import { UsageError } from './usage-error'
import { loadView, viewOptions } from './view'
import { refuseExisting, withFolders, writeWhole } from './write-file'

const USAGE = 'relief lines MODEL…|PROJECT --kinds silhouette,crease,… --size WxH --out FILE.svg'

export const linesOptions = {
  ...viewOptions,
  kinds: { type: 'string' },
  out: { type: 'string' },
  style: { type: 'string' },
  weight: { type: 'string' },
  hidden: { type: 'string' },
  crease: { type: 'string' },
  ground: { type: 'boolean' },
  sun: { type: 'string' },
  'height-mm': { type: 'string' },
  overwrite: { type: 'boolean' },
} as const

/** `relief lines`: the lines of a view as an SVG file. */
export async function lines(argv: readonly string[]): Promise<void> {
  // 1. What is asked.
  const { values, positionals: inputs } = parseOptions(argv, linesOptions)
  if (inputs.length === 0 || !values.out) throw new UsageError(USAGE)
  if (!/\.svg$/i.test(values.out))
    throw new UsageError(`--out takes a file that ends in .svg (got "${values.out}")`)
  const kinds =
    values.kinds === undefined ? DEFAULT_LINE_SETTING.kinds : values.kinds.split(',').map(parseKind)
  const light = values.sun === undefined ? null : parseSun(values.sun)
  if (kinds.includes('shadow') && !light) throw new UsageError('shadow lines need --sun AZIMUTH,ELEVATION')
  const style = styleFrom(values)
  const creaseDeg =
    values.crease === undefined ? DEFAULT_LINE_SETTING.creaseDeg : numbers(values.crease, 1, 'crease')[0]
  if (!(creaseDeg >= 1 && creaseDeg <= 180))
    throw new UsageError(`--crease takes 1 to 180 degrees (got "${values.crease}")`)
  const heightMm =
    values['height-mm'] === undefined ? undefined : numbers(values['height-mm'], 1, 'height-mm')[0]
  if (heightMm !== undefined && !(heightMm > 0))
    throw new UsageError(`--height-mm takes a height above 0 (got "${values['height-mm']}")`)
  const { out } = values
  await refuseExisting(out, values.overwrite ?? false)

  // 2. Find, stroke, write.
  await withFolders([out], async () => {
    const { geometry, camera, frame } = await loadView(inputs, { ...values, ground: undefined })
    const setting = { ...DEFAULT_LINE_SETTING, kinds, creaseDeg, light, ground: values.ground ?? false }
    const drawing = findLines(geometry, camera, frame, setting)
    const svg = writeSvgLines(drawing, strokeLines(drawing, style), { ...frame, heightMm })
    await writeWhole(out, svg)
  })
}

function parseKind(text: string): LineKind {
  const kind = LINE_KINDS.find((k) => k === text.trim())
  if (!kind) throw new UsageError(`there are no lines "${text.trim()}"; there are ${LINE_KINDS.join(', ')}`)
  return kind
}

/** The sun of shadow edges, in degrees as the camera's; they are asked for by naming it. */
function parseSun(text: string): LineLight {
  const [azimuth, elevation] = numbers(text, 2, 'sun')
  return { kind: 'sun', toLight: directionFrom(azimuth, elevation) }
}

/** A named style, or plain lines of one weight for each kind; hidden lines are dashed unless asked otherwise. */
function styleFrom(values: { style?: string; weight?: string; hidden?: string }): LineStyle {
  const named = values.style === undefined ? undefined : LINE_STYLES[values.style]
  if (values.style !== undefined && !named)
    throw new UsageError(
      `there is no style "${values.style}"; there are ${Object.keys(LINE_STYLES).join(', ')}`,
    )
  const base = named?.style ?? lineStyleSchema.parse({ hidden: 'dashed', hiddenBehind: 9 })
  const weight = values.weight === undefined ? base.weight : numbers(values.weight, 1, 'weight')[0]
  const parsed = lineStyleSchema.safeParse({ ...base, weight, hidden: values.hidden ?? base.hidden })
  if (parsed.success) return parsed.data
  const [issue] = parsed.error.issues
  throw new UsageError(`--${issue.path.join('.')}: ${issue.message}`)
}
