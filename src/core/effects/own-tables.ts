import { cubeOf, type GradingTable } from '../formats/cube-table'
import { oklabToSrgb, srgbToOklab } from '../math/oklab'

/** What a grading does, in OKLab: told by its contrast, its colours and how they lean in darks and in lights. */
interface Grading {
  readonly label: string
  /** How far lightness is drawn apart about its middle; 1 leaves it. */
  readonly contrast: number
  /** What black and white become, in lightness. */
  readonly black: number
  readonly white: number
  readonly chroma: number
  /** Where darks and lights lean, on OKLab's axes of green to red and blue to yellow. */
  readonly darks: readonly [number, number]
  readonly lights: readonly [number, number]
  /** Degrees that hues are turned by. */
  readonly turnDeg: number
}

const plain = {
  contrast: 1,
  black: 0,
  white: 1,
  chroma: 1,
  darks: [0, 0],
  lights: [0, 0],
  turnDeg: 0,
} as const

/** Twelve gradings of our own. */
const GRADINGS: Readonly<Record<string, Grading>> = {
  lateSun: {
    ...plain,
    label: 'Late sun',
    contrast: 1.08,
    chroma: 1.08,
    darks: [0.012, -0.018],
    lights: [0.012, 0.05],
  },
  coldHarbour: {
    ...plain,
    label: 'Cold harbour',
    contrast: 1.06,
    chroma: 0.82,
    darks: [-0.012, -0.04],
    lights: [-0.012, -0.008],
  },
  oldPostcard: {
    ...plain,
    label: 'Old postcard',
    contrast: 0.82,
    black: 0.16,
    white: 0.95,
    chroma: 0.62,
    darks: [0.016, 0.012],
    lights: [-0.004, 0.045],
  },
  copperPlate: {
    ...plain,
    label: 'Copper plate',
    contrast: 1.22,
    chroma: 0.42,
    darks: [0.02, 0.012],
    lights: [0.018, 0.04],
  },
  moonlight: {
    ...plain,
    label: 'Moonlight',
    contrast: 1.05,
    white: 0.82,
    chroma: 0.5,
    darks: [-0.006, -0.06],
    lights: [-0.018, -0.035],
  },
  bleachedBone: {
    ...plain,
    label: 'Bleached bone',
    contrast: 1.28,
    white: 0.99,
    chroma: 0.36,
    darks: [0.002, 0.004],
    lights: [0.002, 0.018],
  },
  teaStain: {
    ...plain,
    label: 'Tea stain',
    contrast: 0.94,
    black: 0.1,
    white: 0.96,
    chroma: 0.5,
    darks: [0.022, 0.034],
    lights: [0.012, 0.06],
  },
  stormGlass: {
    ...plain,
    label: 'Storm glass',
    contrast: 1.14,
    white: 0.93,
    chroma: 0.74,
    darks: [-0.028, -0.014],
    lights: [-0.016, 0.01],
  },
  roseDusk: {
    ...plain,
    label: 'Rose dusk',
    contrast: 0.98,
    black: 0.06,
    chroma: 0.92,
    darks: [0.03, -0.045],
    lights: [0.04, 0.02],
  },
  greenCopper: {
    ...plain,
    label: 'Green copper',
    contrast: 1.06,
    chroma: 0.86,
    darks: [-0.034, 0.006],
    lights: [-0.012, 0.03],
  },
  inkAndCream: {
    ...plain,
    label: 'Ink and cream',
    contrast: 1.36,
    black: 0.12,
    white: 0.97,
    chroma: 0.12,
    darks: [-0.002, -0.026],
    lights: [0.004, 0.034],
  },
  paintedSign: {
    ...plain,
    label: 'Painted sign',
    contrast: 1.18,
    chroma: 1.34,
    darks: [0.004, -0.012],
    lights: [0.002, 0.012],
    turnDeg: -4,
  },
}

export const ownTableLabels: Readonly<Record<string, string>> = Object.fromEntries(
  Object.entries(GRADINGS).map(([name, { label }]) => [name, label]),
)

/** Entries on each axis. */
export const TABLE_SIZE = 33
const made = new Map<string, GradingTable>()

/** One of our own tables; null where none has that name. */
export function ownTable(name: string): GradingTable | null {
  const known = made.get(name)
  if (known) return known
  const grading = Object.hasOwn(GRADINGS, name) ? GRADINGS[name] : null
  if (!grading) return null
  const table = cubeOf(grading.label, TABLE_SIZE, (rgb) => graded(grading, rgb))
  made.set(name, table)
  return table
}

/** Steeper in the middle and level at both ends, or the other way round. */
function bent(l: number, contrast: number): number {
  const x = Math.min(1, Math.max(0, l))
  return x ** contrast / (x ** contrast + (1 - x) ** contrast)
}

function graded(
  { contrast, black, white, chroma, darks, lights, turnDeg }: Grading,
  rgb: Float64Array,
): void {
  const [l, a, b] = srgbToOklab([rgb[0], rgb[1], rgb[2]])
  const lightness = black + (white - black) * bent(l, contrast)
  const turn = (turnDeg * Math.PI) / 180
  const [cos, sin] = [chroma * Math.cos(turn), chroma * Math.sin(turn)]
  // Darks lean most at black, lights at white; black and white themselves take what ink and paper would.
  const dark = (1 - lightness) ** 2
  const light = lightness ** 2
  rgb.set(
    oklabToSrgb([
      lightness,
      cos * a - sin * b + dark * darks[0] + light * lights[0],
      sin * a + cos * b + dark * darks[1] + light * lights[1],
    ]),
  )
}
