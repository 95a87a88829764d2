/** Everything that a turntable can leave as. */
export const FILM_FORMATS = ['mp4', 'webm', 'av1', 'webp', 'apng', 'gif', 'png', 'stills'] as const
export type FilmFormat = (typeof FILM_FORMATS)[number]

interface FilmFormatFacts {
  readonly label: string
  readonly extension: string
  readonly media: string
  /** Whether what is clear stays so. */
  readonly hasAlpha: boolean
  /** By what its size is chosen: by a figure or by what it may take; not at all where it is without loss. */
  readonly isLossy: boolean
  /** Whether the file says how often it is played; of others frames are written again. */
  readonly saysPlays: boolean
}

export const filmFormats: Readonly<Record<FilmFormat, FilmFormatFacts>> = {
  mp4: {
    label: 'MP4, H.264',
    extension: 'mp4',
    media: 'video/mp4',
    hasAlpha: false,
    isLossy: true,
    saysPlays: false,
  },
  webm: {
    label: 'WebM, VP9',
    extension: 'webm',
    media: 'video/webm',
    hasAlpha: true,
    isLossy: true,
    saysPlays: false,
  },
  av1: {
    label: 'WebM, AV1',
    extension: 'webm',
    media: 'video/webm',
    hasAlpha: false,
    isLossy: true,
    saysPlays: false,
  },
  webp: {
    label: 'Animated WebP',
    extension: 'webp',
    media: 'image/webp',
    hasAlpha: true,
    isLossy: true,
    saysPlays: true,
  },
  apng: {
    label: 'Animated PNG',
    extension: 'png',
    media: 'image/apng',
    hasAlpha: true,
    isLossy: false,
    saysPlays: true,
  },
  gif: {
    label: 'GIF',
    extension: 'gif',
    media: 'image/gif',
    hasAlpha: true,
    isLossy: false,
    saysPlays: true,
  },
  png: {
    label: 'Numbered PNG, in a zip',
    extension: 'zip',
    media: 'application/zip',
    hasAlpha: true,
    isLossy: false,
    saysPlays: false,
  },
  stills: {
    label: 'Sheet of stills, PNG',
    extension: 'png',
    media: 'image/png',
    hasAlpha: true,
    isLossy: false,
    saysPlays: false,
  },
}

/** Films that the browser's own encoders make. */
export type EncodedFilm = 'mp4' | 'webm' | 'av1'

/** Of each codec the quantizers of the least and the best quality: what WebCodecs takes. */
const QUANTIZERS: Readonly<Record<EncodedFilm, readonly [number, number]>> = {
  mp4: [46, 8],
  webm: [60, 4],
  av1: [60, 4],
}

/** @param quality 0…100. @returns what an encoder is told: lower is better. */
export const quantizerOf = (format: EncodedFilm, quality: number): number => {
  const [worst, best] = QUANTIZERS[format]
  return Math.round(worst + ((best - worst) * Math.min(100, Math.max(0, quality))) / 100)
}

/** Bits a second for a film of so many bytes; a little is kept for what is around the pictures. */
export const bitsForSize = (bytes: number, frames: number, rate: number): number =>
  Math.max(10_000, Math.round((0.97 * 8 * bytes * rate) / Math.max(1, frames)))

/**
 * The name of a numbered picture: `#` stands for a digit of its number, in the last row of them.
 * @param pattern such as `gauge_####.png`; one without a row of them gets four at its end.
 */
export function numberedName(pattern: string, frame: number, extension: string): string {
  const bare = pattern.replace(new RegExp(`\\.${extension}$`, 'i'), '')
  const rows = [...bare.matchAll(/#+/g)]
  const row = rows.at(-1)
  const digits = (length: number): string => String(frame).padStart(length, '0')
  const name = row
    ? bare.slice(0, row.index) + digits(row[0].length) + bare.slice(row.index + row[0].length)
    : `${bare}_${digits(4)}`
  return `${name}.${extension}`
}

/** What is wrong with a pattern for names of files, in words; null where nothing is. */
export function patternProblem(pattern: string, frames: number): string | null {
  if (pattern.trim() === '') return 'It must name something.'
  if (/[\\/:*?"<>|\u0000-\u001f]/.test(pattern)) return 'It must not hold \\ / : * ? " < > or |.'
  const row = [...pattern.matchAll(/#+/g)].at(-1)
  const digits = String(Math.max(0, frames - 1)).length
  if (row && row[0].length < digits)
    return `${frames} frames take ${digits} digits: # must stand there as often.`
  return null
}
