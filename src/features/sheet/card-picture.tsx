'use client'

import { useEffect, useRef } from 'react'
import { hashJson } from '@/core/math/stable-hash'
import { hasContent, type Sheet, type SheetNode } from '@/core/sheet/sheet-schema'
import { withinLayer } from '@/core/sheet/sheet-tree'
import { activePasses, activeSheet } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { sheetService, syncSheet } from '@/state/sheet-sync'

/** Pixels of a card's picture. */
const THUMB = { width: 212, height: 164 }

interface CardPictureProps {
  readonly project: Project
  readonly layer: SheetNode
  readonly proofSize: { readonly width: number; readonly height: number }
}

/** What of the document changes what a layer alone shows. */
function shownBy(sheet: Sheet, layer: SheetNode): unknown {
  const own = [layer.content, layer.mask, layer.effects]
  if (!hasContent(layer, 'group')) return own
  // How a group is folded is no part of its picture.
  return [
    layer.content.children,
    layer.mask,
    layer.effects,
    withinLayer(sheet, layer.id)
      .slice(1)
      .map((id) => sheet.nodes[id]),
  ]
}

/** A picture of what a layer alone contributes, made anew when that changes. */
export function CardPicture({ project, layer, proofSize }: CardPictureProps) {
  const canvasRef = useRef<HTMLCanvasElement>(null)
  const sheet = activeSheet(project)
  const results = activePasses(project).map((pass) => pass.rendered?.resultId)
  const content = hashJson([
    shownBy(sheet, layer),
    results,
    proofSize,
    [sheet.width, sheet.height, sheet.fit, sheet.blendSpace],
  ])
  const latest = useRef({ project, proofSize })
  useEffect(() => {
    latest.current = { project, proofSize }
  })
  useEffect(() => {
    let stale = false
    const timer = setTimeout(async () => {
      const now = latest.current
      try {
        await syncSheet(now.project)
        if (stale) return
        const scale = Math.max(THUMB.width / now.proofSize.width, THUMB.height / now.proofSize.height)
        const small = {
          width: Math.round(now.proofSize.width * scale),
          height: Math.round(now.proofSize.height * scale),
        }
        const raster = await sheetService().raster({
          type: 'thumbnail',
          sheet: activeSheet(now.project),
          layerId: layer.id,
          size: now.proofSize,
          small,
        })
        const context = canvasRef.current?.getContext('2d')
        if (stale || !context) return
        context.clearRect(0, 0, THUMB.width, THUMB.height)
        if (raster) {
          const image = new ImageData(raster.rgba, raster.width, raster.height)
          context.putImageData(
            image,
            Math.round((THUMB.width - small.width) / 2),
            Math.round((THUMB.height - small.height) / 2),
          )
        }
      } catch {
        // The proof tells of the same problem.
      }
    }, 60)
    return () => {
      stale = true
      clearTimeout(timer)
    }
  }, [content, layer.id, sheet.id])
  return <canvas ref={canvasRef} width={THUMB.width} height={THUMB.height} aria-hidden="true" />
}
