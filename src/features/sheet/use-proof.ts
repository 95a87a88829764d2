import { useCallback, useEffect, useMemo, useRef, useState } from 'react'
import { activeSheet } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { askSheet } from '@/state/sheet-sync'
import { keepThumbnail } from '@/state/thumbnail'

/** Longest side at which the proof is composited while working; exports are always full size. */
const PROOF_SIDE = 3200

/** The scale at which a proof is composited: that at which it is seen, so that pixel falls on pixel, and never finer. */
export const proofScale = (zoom: number): number => Math.min(1, Math.max(1 / 16, zoom))

/** A zoom must have rested this long before the proof is composited anew for it. */
const REST_MS = 200

/**
 * @returns the scale to composite at (null until the view is measured), and what to tell of each zoom, in device pixels
 *   per sheet pixel.
 */
export function useProofScale(): readonly [number | null, (zoom: number) => void] {
  const [scale, setScale] = useState<number | null>(null)
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null)
  const known = scale !== null
  const onZoom = useCallback(
    (zoom: number) => {
      if (timer.current) clearTimeout(timer.current)
      if (known) timer.current = setTimeout(() => setScale(proofScale(zoom)), REST_MS)
      else setScale(proofScale(zoom))
    },
    [known],
  )
  return [scale, onZoom]
}

export interface ProofState {
  readonly milliseconds: number | null
  readonly problem: string | null
}

/**
 * Keeps a canvas showing what the stack gives; asks for one picture at a time and always ends with the latest.
 * @param scale 0…1 of the sheet's size, from {@link proofScale}; null composites nothing yet.
 */
export function useProof(project: Project, upTo: number, without: string | null, scale: number | null) {
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const [state, setState] = useState<ProofState>({ milliseconds: null, problem: null })
  const sheet = activeSheet(project)
  const fit = Math.min(scale ?? 1, PROOF_SIDE / Math.max(sheet.width, sheet.height))
  const width = Math.max(1, Math.round(sheet.width * fit))
  const height = Math.max(1, Math.round(sheet.height * fit))
  const wanted = useMemo(
    () => ({ project, sheet, upTo, without, width, height }),
    [project, sheet, upTo, without, width, height],
  )
  const latest = useRef(wanted)
  const measured = scale !== null
  const busy = useRef(false)
  useEffect(() => {
    latest.current = wanted
    if (!measured || busy.current) return
    busy.current = true
    const run = async () => {
      type Wanted = typeof wanted
      for (let done: Wanted | null = null; done !== latest.current;) {
        const now: Wanted = latest.current
        try {
          const raster = await askSheet(now.project, (worker) =>
            worker.raster({
              type: 'compose',
              sheet: now.sheet,
              size: { width: now.width, height: now.height },
              upTo: Math.min(now.upTo, now.sheet.roots.length),
              without: now.without,
            }),
          )
          const canvas = canvasRef.current
          if (raster && canvas) {
            // Sized together with its pixels, never before: until then the last picture stands, scaled.
            if (canvas.width !== raster.width) canvas.width = raster.width
            if (canvas.height !== raster.height) canvas.height = raster.height
            canvas
              .getContext('2d')
              ?.putImageData(new ImageData(raster.rgba, raster.width, raster.height), 0, 0)
          }
          setState({ milliseconds: raster?.milliseconds ?? null, problem: null })
        } catch (error) {
          setState({ milliseconds: null, problem: error instanceof Error ? error.message : String(error) })
        }
        done = now
      }
      busy.current = false
      // At rest on the whole stack: that is the start page's picture.
      const { project: shown, sheet: shownSheet, upTo: count, without: left } = latest.current
      if (left === null && count >= shownSheet.roots.length && canvasRef.current) {
        await keepThumbnail(shown.id, canvasRef.current).catch(() => undefined)
      }
    }
    void run()
  }, [wanted, measured])
  return { canvasRef, width, height, ...state }
}
