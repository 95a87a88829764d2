'use client'

import { useEffect, useMemo, useRef, useState } from 'react'
import type { Tile } from '@/core/passes/tile'
import { lookAtRect } from '@/core/passes/pass-picture'
import type { PassResult } from '@/core/passes/pass-result'
import { passKind } from '@/core/passes/registry'
import { paramDefaults, type ParamValues } from '@/core/params'
import { pictureRevision } from '@/data/shown-revision'
import { shotOf } from '@/data/active-shot'
import type { Project, ProjectPass } from '@/data/project-schema'
import { onPixels, useRenderQueue } from '@/state/render-queue'
import { passPicture } from '@/state/sheet-sync'
import { paintSoon } from './paint-queue'

/** Rows of a pass painted at once, so that painting fits between two frames. */
const STRIP_ROWS = 32

const overlap = (a: Tile, b: Tile): Tile | null => {
  const x = Math.max(a.x, b.x)
  const y = Math.max(a.y, b.y)
  const width = Math.min(a.x + a.width, b.x + b.width) - x
  const height = Math.min(a.y + a.height, b.y + b.height) - y
  return width > 0 && height > 0 ? { x, y, width, height } : null
}

/** Paints a piece of a pass onto a canvas that shows `view` of it. */
function paintPiece(
  canvas: HTMLCanvasElement,
  view: Tile,
  piece: Tile,
  result: PassResult,
  look: ParamValues,
): void {
  const context = canvas.getContext('2d')
  // A finished pass has moved to storage: its arrays here are empty.
  if (!context || result.channels.some((c) => c.length === 0)) return
  const scale = canvas.width / view.width
  // No more pixels than the screen can show: a large picture must not be painted whole into a small one.
  const stride = Math.max(1, Math.floor(1 / scale))
  const across = Math.ceil(piece.width / stride)
  const down = Math.ceil(piece.height / stride)
  const pixels = lookAtRect(result, piece, look, stride)
  const bytes = new Uint8ClampedArray(pixels.length)
  for (let i = 0; i < bytes.length; i++) bytes[i] = pixels[i] * 255
  const scratch = scratchFor(across, down)
  if (!scratch) return
  scratch.putImageData(new ImageData(bytes, across, down), 0, 0)
  const [x, y] = [(piece.x - view.x) * scale, (piece.y - view.y) * scale]
  const [width, height] = [piece.width * scale, piece.height * scale]
  context.imageSmoothingQuality = 'high'
  context.clearRect(x, y, width, height)
  context.drawImage(scratch.canvas, 0, 0, across, down, x, y, width, height)
}

let scratchContext: OffscreenCanvasRenderingContext2D | null = null

/** A canvas for pieces on their way to the screen, at least that large: to make one for each costs more than the paint. */
function scratchFor(width: number, height: number): OffscreenCanvasRenderingContext2D | null {
  const canvas = scratchContext?.canvas
  if (!canvas || canvas.width < width || canvas.height < height)
    scratchContext = new OffscreenCanvas(
      Math.max(width, canvas?.width ?? 0),
      Math.max(height, canvas?.height ?? 0),
    ).getContext('2d', { willReadFrequently: true })
  return scratchContext
}

/**
 * Keeps a canvas showing part of a pass: what is stored, and new pixels as they are rendered.
 * @param view the part shown, in whole pixels inside the shot's frame.
 * @param width,height of the canvas in device pixels.
 * @returns `drawn`: the part the canvas holds now; it follows `view` as soon as the new part is ready.
 */
export function usePassCanvas(
  project: Project,
  pass: ProjectPass,
  view: Tile,
  width: number,
  height: number,
) {
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const live = useRef<PassResult | null>(null)
  const [drawn, setDrawn] = useState(view)
  const rendering = useRenderQueue((s) =>
    s.jobs.some((j) => j.state === 'rendering' && j.passIds.includes(pass.id)),
  )
  const finished = useRenderQueue((s) => s.finished)
  const revision = useMemo(() => pictureRevision(project, pass), [project, pass])
  const { frame } = shotOf(project, pass)
  const latest = useRef({ project, view, frame })
  useEffect(() => {
    latest.current = { project, view, frame }
  })

  // What is stored; after a render that was cancelled, this brings the kept picture back.
  useEffect(() => {
    let stale = false
    const look = paramDefaults(passKind(pass.kind).lookSchema)
    const part = { x: view.x, y: view.y, width: view.width, height: view.height }
    const show = async () => {
      const canvas = canvasRef.current
      if (!canvas) return
      if (canvas.width !== width) canvas.width = width
      if (canvas.height !== height) canvas.height = height
      if (rendering && live.current) {
        const result = live.current
        for (let y = part.y; y < part.y + part.height; y += STRIP_ROWS) {
          const strip = { ...part, y, height: Math.min(STRIP_ROWS, part.y + part.height - y) }
          paintSoon(() => !stale && paintPiece(canvas, part, strip, result, look))
        }
        setDrawn(part)
        return
      }
      live.current = null
      if (!revision) {
        canvas.getContext('2d')?.clearRect(0, 0, canvas.width, canvas.height)
        setDrawn(part)
        return
      }
      const raster = await passPicture(latest.current.project, {
        type: 'pass-picture',
        passId: pass.id,
        look,
        part: { of: { ...latest.current.frame }, rect: part },
        size: { width, height },
      })
      if (stale || !raster) return
      canvas.getContext('2d')?.putImageData(new ImageData(raster.rgba, width, height), 0, 0)
      setDrawn(part)
    }
    // A sheet worker that is closed under a picture asked for is asked again by the next change.
    const timer = setTimeout(() => void show().catch(() => undefined), 30)
    return () => {
      stale = true
      clearTimeout(timer)
    }
  }, [
    revision,
    finished,
    rendering,
    pass.id,
    pass.kind,
    view.x,
    view.y,
    view.width,
    view.height,
    width,
    height,
  ])

  // What is being rendered.
  useEffect(() => {
    const look = paramDefaults(passKind(pass.kind).lookSchema)
    return onPixels((passId, rect, result) => {
      if (passId !== pass.id) return
      live.current = result
      for (let y = 0; y < rect.height; y += STRIP_ROWS) {
        const strip = { ...rect, y: rect.y + y, height: Math.min(STRIP_ROWS, rect.height - y) }
        paintSoon(() => {
          // A piece that comes after its render was cancelled must not cover the picture that was kept.
          if (live.current !== result) return
          const part = latest.current.view
          const piece = overlap(strip, part)
          if (piece && canvasRef.current) paintPiece(canvasRef.current, part, piece, result, look)
        })
      }
    })
  }, [pass.id, pass.kind])
  return { canvasRef, drawn }
}
