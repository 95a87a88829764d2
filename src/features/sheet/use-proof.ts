import { useEffect, useMemo, useRef, useState } from 'react'
import { database } from '@/data/database'
import type { Project } from '@/data/project-schema'
import { sheetService, syncSheet } from '@/state/sheet-sync'

/** Longest side at which the proof is composited while working; exports are always full size. */
const PROOF_SIDE = 1600

export interface ProofState {
  readonly milliseconds: number | null
  readonly problem: string | null
}

/** Keeps a canvas showing what the stack gives; asks for one picture at a time and always ends with the latest. */
export function useProof(project: Project, upTo: number, without: string | null) {
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const [state, setState] = useState<ProofState>({ milliseconds: null, problem: null })
  const [sheet] = project.sheets
  const shrink = Math.max(1, Math.max(sheet.width, sheet.height) / PROOF_SIDE)
  const width = Math.max(1, Math.round(sheet.width / shrink))
  const height = Math.max(1, Math.round(sheet.height / shrink))
  const wanted = useMemo(
    () => ({ project, sheet, upTo, without, width, height }),
    [project, sheet, upTo, without, width, height],
  )
  const latest = useRef(wanted)
  const busy = useRef(false)
  const thumbnailTimer = useRef<ReturnType<typeof setTimeout> | null>(null)
  useEffect(() => {
    latest.current = wanted
    if (busy.current) return
    busy.current = true
    const run = async () => {
      type Wanted = typeof wanted
      for (let done: Wanted | null = null; done !== latest.current;) {
        const now: Wanted = latest.current
        try {
          await syncSheet(now.project)
          const raster = await sheetService().raster({
            type: 'compose',
            sheet: now.sheet,
            size: { width: now.width, height: now.height },
            upTo: Math.min(now.upTo, now.sheet.layers.length),
            without: now.without,
          })
          const context = canvasRef.current?.getContext('2d')
          if (raster && context)
            context.putImageData(new ImageData(raster.rgba, raster.width, raster.height), 0, 0)
          setState({ milliseconds: raster?.milliseconds ?? null, problem: null })
        } catch (error) {
          setState({ milliseconds: null, problem: error instanceof Error ? error.message : String(error) })
        }
        done = now
      }
      busy.current = false
    }
    void run()
    if (without === null && upTo >= sheet.layers.length) {
      if (thumbnailTimer.current) clearTimeout(thumbnailTimer.current)
      thumbnailTimer.current = setTimeout(() => void keepThumbnail(project.id, canvasRef.current), 1200)
    }
  }, [wanted, project.id, sheet.layers.length, upTo, without])
  return { canvasRef, width, height, ...state }
}

/** The start page's picture of the project. */
async function keepThumbnail(projectId: string, canvas: HTMLCanvasElement | null): Promise<void> {
  if (!canvas) return
  const small = new OffscreenCanvas(480, 300)
  const context = small.getContext('2d')
  if (!context) return
  const scale = Math.max(480 / canvas.width, 300 / canvas.height)
  context.drawImage(
    canvas,
    (480 - canvas.width * scale) / 2,
    (300 - canvas.height * scale) / 2,
    canvas.width * scale,
    canvas.height * scale,
  )
  const bytes = new Uint8Array(await (await small.convertToBlob({ type: 'image/png' })).arrayBuffer())
  await database.projects.update(projectId, { thumbnail: bytes }).catch(() => undefined)
}
