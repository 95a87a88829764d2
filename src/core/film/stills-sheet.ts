import type { Frame } from '../scene/camera'

/** Stills of a turntable on one picture, as a grid. */
export interface StillsGrid extends Frame {
  /** Where its rows begin. */
  readonly tops: readonly number[]
  /** Left and top of each cell, in order. */
  readonly places: readonly (readonly [number, number])[]
}

/** Frames at even steps round a turntable. @param count of them. */
export const stillFrames = (frames: number, count: number): number[] =>
  Array.from({ length: count }, (_, i) => Math.floor((i * frames) / count))

/**
 * Where stills lie: in rows, with a margin round all and half of it between them.
 * @param cell how large each is. @param lines so many rows of stills belong to each other: closer views below the others.
 */
export function stillsGrid(cell: Frame, count: number, columns: number, lines: 1 | 2): StillsGrid {
  const across = Math.min(columns, count)
  const down = Math.ceil(count / across) * lines
  const margin = 2 * Math.round(cell.width / 40)
  const gap = margin / 2
  const places = Array.from({ length: count * lines }, (_, i): [number, number] => {
    const [line, k] = [Math.floor(i / count), i % count]
    const row = Math.floor(k / across) * lines + line
    return [margin + (k % across) * (cell.width + gap), margin + row * (cell.height + gap)]
  })
  return {
    tops: Array.from({ length: down }, (_, row) => margin + row * (cell.height + gap)),
    width: 2 * margin + across * cell.width + (across - 1) * gap,
    height: 2 * margin + down * cell.height + (down - 1) * gap,
    places,
  }
}
