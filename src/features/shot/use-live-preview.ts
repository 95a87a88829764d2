'use client'

import { useEffect, useRef, useState, type RefObject } from 'react'
import { lookAtRect } from '@/core/passes/pass-picture'
import type { PassResult } from '@/core/passes/pass-result'
import type { Tile } from '@/core/passes/tile'
import { passKind } from '@/core/passes/registry'
import { relit } from '@/core/scene/rendered-light'
import { rigOf } from '@/data/active-shot'
import type { Project, Shot } from '@/data/project-schema'
import { hashJson } from '@/core/math/stable-hash'
import { toSceneKey } from '@/state/render-scene'
import { focusOf, previewFrame, previewLook, previewPass } from '@/state/live-preview'
import { useMeshStore } from '@/state/mesh-store'
import type { Preview } from '@/state/view-store'

/** How long the camera must rest before the picture is refined. */
const REST_MS = 160

/** Draws a piece of a pass, as it is to be seen, onto a canvas of the pass's size. */
function paint(
  canvas: HTMLCanvasElement,
  rect: Tile,
  result: PassResult,
  shot: Shot,
  project: Project,
  backdrop: string,
): void {
  const context = canvas.getContext('2d')
  if (!context) return
  const lit = { ...result, lights: relit(result.lights, rigOf(project, shot)) }
  const pixels = lookAtRect(lit, rect, previewLook(result.kind))
  const bytes = new Uint8ClampedArray(pixels.length)
  for (let i = 0; i < bytes.length; i++) bytes[i] = pixels[i] * 255
  context.putImageData(new ImageData(bytes, rect.width, rect.height), rect.x, rect.y)
  // Filled here and not by a style: a canvas with a background of its own is taken for larger than it is by some browsers,
  // which leave out what lies just under it.
  context.globalCompositeOperation = 'destination-over'
  context.fillStyle = backdrop
  context.fillRect(rect.x, rect.y, rect.width, rect.height)
  context.globalCompositeOperation = 'source-over'
}

/**
 * Renders the pass one composes in whenever nothing moves, coarse to fine, onto a canvas over the interactive view.
 * @param shot as it is seen: a move may have taken it from where the project has it.
 * @param backdrop colour behind what a pass leaves open.
 * @param resting false while the camera is being moved.
 * @returns `shown`: whether the canvas has a picture of what is seen now.
 */
export function useLivePreview(
  project: Project,
  shot: Shot,
  preview: Preview,
  resting: boolean,
  canvasRef: RefObject<HTMLCanvasElement | null>,
  widthPx: number,
  backdrop: string,
): { readonly shown: boolean; readonly busy: boolean } {
  const [done, setDone] = useState({ key: '', busy: false })
  const result = useRef<PassResult | null>(null)
  const loaded = useMeshStore((s) => project.models.every((m) => s.models[m.id]))
  const rig = rigOf(project, shot)
  const kind = preview === 'model' ? null : preview
  const params = project.passes.find((p) => p.shotId === shot.id && p.kind === kind)?.params
  const usesLights = kind !== null && passKind(kind).usesLights(params ?? {})
  // Everything that takes rays; strengths and colours do not.
  const shapes = usesLights
    ? rig.lights.filter((l) => l.on).map(({ colour: _c, strength: _s, name: _n, ...rest }) => rest)
    : []
  const frame = previewFrame(shot.frame, Math.max(16, widthPx))
  const key = hashJson([kind, shot.camera, frame, toSceneKey(project), shapes, params ?? null, focusOf(shot)])
  const latest = useRef({ project, shot, frame, backdrop })
  useEffect(() => {
    latest.current = { project, shot, frame, backdrop }
  })
  useEffect(() => {
    if (!kind || !resting || !loaded || project.models.length === 0) return
    const abort = new AbortController()
    const timer = setTimeout(() => {
      const now = latest.current
      setDone({ key: '', busy: true })
      let first = true
      previewPass(
        now.project,
        now.shot,
        kind,
        now.frame,
        (rect, pass) => {
          const canvas = canvasRef.current
          if (!canvas || abort.signal.aborted) return
          if (first) {
            canvas.width = now.frame.width
            canvas.height = now.frame.height
            first = false
            setDone({ key, busy: true })
          }
          result.current = pass
          paint(canvas, rect, pass, latest.current.shot, latest.current.project, latest.current.backdrop)
        },
        abort.signal,
      )
        .then((finished) => !abort.signal.aborted && setDone({ key: finished ? key : '', busy: false }))
        // What keeps a scene from being built is told where it is rendered.
        .catch(() => !abort.signal.aborted && setDone({ key: '', busy: false }))
    }, REST_MS)
    return () => {
      clearTimeout(timer)
      abort.abort()
    }
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the key stands for everything that is rendered
  }, [key, resting, loaded])

  // Strengths and colours without rays.
  const looks = hashJson([
    backdrop,
    rig.lights.map((l) => [l.on, l.colour, l.strength, l.kind === 'dome' ? l.below : '']),
  ])
  useEffect(() => {
    const canvas = canvasRef.current
    const pass = result.current
    if (!canvas || !pass || pass.width !== canvas.width || pass.channels.some((c) => c.length === 0)) return
    const { project: p, shot: s, backdrop: b } = latest.current
    paint(canvas, { x: 0, y: 0, width: pass.width, height: pass.height }, pass, s, p, b)
  }, [looks, canvasRef])
  return { shown: kind !== null && resting && done.key === key, busy: done.busy }
}
