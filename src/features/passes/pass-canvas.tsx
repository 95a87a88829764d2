'use client'

import { useEffect, useRef } from 'react'
import type { Tile } from '@/core/passes/pass-kind'
import { lookAtRect, type PassResult } from '@/core/passes/pass-result'
import { passKind } from '@/core/passes/registry'
import { paramDefaults, type ParamValues } from '@/core/params'
import type { Project, ProjectPass } from '@/data/project-schema'
import { onPixels } from '@/state/render-queue'
import { sheetService, syncSheet } from '@/state/sheet-sync'
import { paintSoon } from './paint-queue'

/** Rows painted at once; a whole number of them makes a tile. */
const STRIP_ROWS = 32

/**
 * Keeps a canvas showing a pass: what is stored, and new pixels as they are rendered. The canvas has the size of the
 * shot's frame, or smaller by `shrink`.
 */
export function usePassCanvas(project: Project, pass: ProjectPass, shrink: number) {
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const { frame } = project.shots[0]
  const width = Math.max(1, Math.round(frame.width / shrink))
  const height = Math.max(1, Math.round(frame.height / shrink))
  const revision = pass.rendered?.resultId ?? ''
  const projectRef = useRef(project)
  useEffect(() => {
    projectRef.current = project
  })
  useEffect(() => {
    let stale = false
    const load = async () => {
      await syncSheet(projectRef.current)
      const look = paramDefaults(passKind(pass.kind).lookSchema) as ParamValues
      const raster = await sheetService().raster({
        type: 'pass-picture',
        passId: pass.id,
        look,
        size: { width, height },
      })
      const context = canvasRef.current?.getContext('2d')
      if (stale || !raster || !context) return
      context.putImageData(new ImageData(raster.rgba, width, height), 0, 0)
    }
    if (revision) void load()
    return () => {
      stale = true
    }
  }, [revision, pass.id, pass.kind, width, height])
  useEffect(() => {
    const look = paramDefaults(passKind(pass.kind).lookSchema) as ParamValues
    const paint = (rect: Tile, result: PassResult) => {
      const context = canvasRef.current?.getContext('2d')
      if (!context) return
      const pixels = lookAtRect(result, rect, look)
      const [x0, y0] = [Math.floor(rect.x / shrink), Math.floor(rect.y / shrink)]
      const [w, h] = [
        Math.max(1, Math.floor(rect.width / shrink)),
        Math.max(1, Math.floor(rect.height / shrink)),
      ]
      const bytes = new Uint8ClampedArray(4 * w * h)
      for (let y = 0; y < h; y++) {
        for (let x = 0; x < w; x++) {
          const from = 4 * (Math.floor(y * shrink) * rect.width + Math.floor(x * shrink))
          for (let c = 0; c < 4; c++) bytes[4 * (y * w + x) + c] = pixels[from + c] * 255
        }
      }
      context.putImageData(new ImageData(bytes, w, h), x0, y0)
    }
    return onPixels((passId, rect, result) => {
      if (passId !== pass.id) return
      // Preview rectangles are large: painted row by row they fit between two frames.
      for (let y = 0; y < rect.height; y += STRIP_ROWS) {
        const strip = { ...rect, y: rect.y + y, height: Math.min(STRIP_ROWS, rect.height - y) }
        paintSoon(() => paint(strip, result))
      }
    })
  }, [pass.id, pass.kind, shrink])
  return { canvasRef, width, height }
}
