'use client'

import type { Tile } from '@/core/passes/tile'
import type { Project, ProjectPass } from '@/data/project-schema'
import { usePassCanvas } from './pass-canvas'

/** Side of the lens on screen, and how many pixels of the picture it shows across. */
export const LENS_SIDE = 132
const LENS_PIXELS = 44

/** The pixels about a spot of a picture, in whole pixels inside it. */
export function lensPart(
  x01: number,
  y01: number,
  shown: Tile,
  frame: { width: number; height: number },
): Tile {
  const side = Math.min(LENS_PIXELS, frame.width, frame.height)
  const place = (share: number, start: number, length: number, whole: number) =>
    Math.min(whole - side, Math.max(0, Math.round(start + share * length - side / 2)))
  return {
    x: place(x01, shown.x, shown.width, frame.width),
    y: place(y01, shown.y, shown.height, frame.height),
    width: side,
    height: side,
  }
}

interface PassLensProps {
  readonly project: Project
  readonly pass: ProjectPass
  readonly part: Tile
  /** Where its middle is, in shares of the picture shown. */
  readonly x01: number
  readonly y01: number
}

/** A round glass over a picture of the contact sheet that shows its pixels one by one. */
export function PassLens({ project, pass, part, x01, y01 }: PassLensProps) {
  const { canvasRef } = usePassCanvas(project, pass, part, LENS_SIDE, LENS_SIDE)
  return (
    <div
      className="lens"
      aria-hidden="true"
      style={{ left: `${100 * x01}%`, top: `${100 * y01}%`, width: LENS_SIDE, height: LENS_SIDE }}
    >
      <canvas ref={canvasRef} width={LENS_SIDE} height={LENS_SIDE} style={{ imageRendering: 'pixelated' }} />
    </div>
  )
}
