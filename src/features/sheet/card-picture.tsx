'use client'

import { useEffect, useRef } from 'react'
import type { Sheet, SheetNode } from '@/core/sheet/sheet-schema'
import { withinLayer } from '@/core/sheet/sheet-tree'
import { pictureRevision } from '@/data/shown-revision'
import { activePasses, activeSheet } from '@/data/active-shot'
import { askSheet } from '@/state/sheet-sync'
import { useProjectStore } from '@/state/project-store'
import { useSame } from '@/ui/use-same'

/** Pixels of a card's picture. */
const THUMB = { width: 212, height: 164 }
/** A hand must have rested this long before a card is painted anew. */
const REST_MS = 150

interface CardPictureProps {
  readonly layer: SheetNode
}

/** Layers that a mask or effects look at: every word in them that is a layer's id. */
function lookedAt(sheet: Sheet, of: unknown): readonly unknown[] {
  if (typeof of === 'string') return Object.hasOwn(sheet.nodes, of) ? [sheet.nodes[of]] : []
  if (typeof of !== 'object' || of === null) return []
  return Object.values(of).flatMap((part) => lookedAt(sheet, part))
}

/** What of the document a layer's own picture follows: parts that are compared by identity. */
function shownBy(sheet: Sheet, { id, content, mask, effects }: SheetNode): readonly unknown[] {
  const looked = [...lookedAt(sheet, mask?.terms), ...lookedAt(sheet, effects)]
  if (content.kind !== 'group') return [content, mask, effects, ...looked]
  // How a group is folded is no part of its picture.
  const within = withinLayer(sheet, id).slice(1)
  const inner = within.map((own) => sheet.nodes[own])
  return [content.children, content.isolated, mask, effects, ...looked, ...inner]
}

/** A picture of what a layer alone contributes, made anew when that changes and the hand rests. */
export function CardPicture({ layer }: CardPictureProps) {
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const sheet = useProjectStore(({ project }) => project && activeSheet(project))
  const results = useProjectStore(({ project }) =>
    project
      ? activePasses(project)
          .map((pass) => pictureRevision(project, pass))
          .join()
      : '',
  )
  const shown = useSame([
    ...(sheet ? shownBy(sheet, layer) : []),
    sheet?.id,
    sheet?.width,
    sheet?.height,
    sheet?.fit,
    sheet?.blendSpace,
    results,
  ])
  const { id } = layer
  useEffect(() => {
    let stale = false
    const timer = setTimeout(async () => {
      const { project } = useProjectStore.getState()
      if (!project) return
      try {
        const { width, height } = activeSheet(project)
        const scale = Math.max(THUMB.width / width, THUMB.height / height)
        const small = { width: Math.round(width * scale), height: Math.round(height * scale) }
        const raster = await askSheet(project, async (worker) =>
          stale ? null : worker.raster({ type: 'thumbnail', layerId: id, small }),
        )
        const context = canvasRef.current?.getContext('2d')
        if (stale || !context) return
        context.clearRect(0, 0, THUMB.width, THUMB.height)
        if (raster)
          context.putImageData(
            new ImageData(raster.rgba, raster.width, raster.height),
            Math.round((THUMB.width - small.width) / 2),
            Math.round((THUMB.height - small.height) / 2),
          )
      } catch {
        // The proof tells of the same problem.
      }
    }, REST_MS)
    return () => {
      stale = true
      clearTimeout(timer)
    }
  }, [shown, id])
  return <canvas ref={canvasRef} width={THUMB.width} height={THUMB.height} aria-hidden="true" />
}
