import type { Frame } from './camera'
import { MAX_PICTURE_SIDE } from './camera'

/** Picture sizes by what they are for. Paper sizes are in millimetres (ISO 216) or inches, and come to pixels at a dpi. */
export interface PictureSize {
  readonly name: string
  readonly group: 'Screen' | 'Paper' | 'Inches' | 'Film'
  readonly unit: 'px' | 'mm' | 'in'
  /** Upright for paper; as shown for the rest. */
  readonly width: number
  readonly height: number
}

const sizes = (
  group: PictureSize['group'],
  unit: PictureSize['unit'],
  list: Readonly<Record<string, readonly [number, number]>>,
): PictureSize[] =>
  Object.entries(list).map(([name, [width, height]]) => ({ name, group, unit, width, height }))

export const PICTURE_SIZES: readonly PictureSize[] = [
  ...sizes('Screen', 'px', {
    'Screen 16:10': [1280, 800],
    'Large screen 16:10': [2560, 1600],
    Square: [1600, 1600],
    'Upright 4:5': [1600, 2000],
    'Tall 9:16': [1080, 1920],
  }),
  ...sizes('Film', 'px', {
    'Film 16:9': [1920, 1080],
    'Film 16:9, large': [3840, 2160],
    'Film 1.85:1': [1998, 1080],
    'Film 2.39:1': [2048, 858],
  }),
  ...sizes('Paper', 'mm', { A6: [105, 148], A5: [148, 210], A4: [210, 297], A3: [297, 420], A2: [420, 594] }),
  ...sizes('Inches', 'in', {
    '5 × 7 in': [5, 7],
    '8 × 10 in': [8, 10],
    '11 × 14 in': [11, 14],
    '16 × 20 in': [16, 20],
    '18 × 24 in': [18, 24],
  }),
]

/** The highest whole dpi at which a size on paper still fits a picture; a size in pixels knows none. */
export const mostDpi = ({ unit, width, height }: PictureSize): number =>
  unit === 'px'
    ? Infinity
    : Math.floor(((MAX_PICTURE_SIDE + 0.499) * (unit === 'in' ? 1 : 25.4)) / Math.max(width, height))

/**
 * Pixels of a size. Where a side would be longer than a picture can be, both come smaller, so that the paper keeps its
 * proportions: {@link mostDpi} says from where on.
 * @param across turns upright paper on its side. @param dpi counts for paper only.
 */
export function sizeInPixels(size: PictureSize, dpi: number, across: boolean): Frame {
  const fitting = Math.min(dpi, mostDpi(size))
  const perUnit = size.unit === 'px' ? 1 : size.unit === 'in' ? fitting : fitting / 25.4
  const pixels = (length: number) => Math.max(16, Math.round(length * perUnit))
  const [width, height] = [pixels(size.width), pixels(size.height)]
  return across && size.unit !== 'px' ? { width: height, height: width } : { width, height }
}

/** The size and way round that a frame is, at a dpi; null for one of its own. */
export function sizeOf(
  frame: Frame,
  dpi: number,
): { readonly size: PictureSize; readonly across: boolean } | null {
  for (const size of PICTURE_SIZES) {
    for (const across of [false, true]) {
      const { width, height } = sizeInPixels(size, dpi, across)
      if (width === frame.width && height === frame.height) return { size, across }
    }
  }
  return null
}
