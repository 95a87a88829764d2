import { CancelledError } from '@/core/errors'
import type { ParamValues } from '@/core/params'
import { paramDefaults } from '@/core/params'
import type { Tile } from '@/core/passes/tile'
import type { PassResult } from '@/core/passes/pass-result'
import { passKind, type PassKindName } from '@/core/passes/registry'
import type { Frame, LensFocus } from '@/core/scene/camera'
import { rigOf } from '@/data/active-shot'
import type { Project, Shot } from '@/data/project-schema'
import { renderLive } from './render-queue'

/** Looks a pass has while one composes. */
export const previewLook = (kind: PassKindName): ParamValues => paramDefaults(passKind(kind).lookSchema)

/** What of a shot's lens is out of focus; null where all is sharp. */
export function focusOf({ camera, focus }: Pick<Shot, 'camera' | 'focus'>): LensFocus | null {
  if (!focus?.on || camera.orthoHeight !== null || focus.blur === 0) return null
  const toTarget = Math.hypot(...camera.eye.map((v, i) => v - camera.target[i]))
  return { distance: focus.distance ?? toTarget, blur: focus.blur }
}

/** A frame of the same shape with at most so many pixels. */
export function previewFrame(frame: Frame, widthPx: number, mostPixels = 720 * 450): Frame {
  const scale = Math.min(1, widthPx / frame.width, Math.sqrt(mostPixels / (frame.width * frame.height)))
  return {
    width: Math.max(16, Math.round(frame.width * scale)),
    height: Math.max(16, Math.round(frame.height * scale)),
  }
}

/**
 * Renders one pass of a shot small and rough, coarse to fine, to be looked at while one composes. Real renders come
 * first: it gives way to them.
 * @returns whether it was finished.
 */
export async function previewPass(
  project: Project,
  shot: Shot,
  kind: PassKindName,
  frame: Frame,
  onPixels: (rect: Tile, result: PassResult) => void,
  signal: AbortSignal,
): Promise<boolean> {
  const pass = project.passes.find((p) => p.shotId === shot.id && p.kind === kind)
  const params = pass?.params ?? paramDefaults(passKind(kind).renderSchema)
  const { draft } = passKind(kind).efforts
  const focus = focusOf(shot)
  const effort = kind === 'id' ? { samples: 8, rays: 4 } : draft
  try {
    return await renderLive(
      project,
      {
        camera: shot.camera,
        frame,
        rig: rigOf(project, shot),
        focus: focus ?? undefined,
        // A wide lens spreads a point over many places: it takes more samples to close them.
        orders: [
          {
            kind,
            params,
            effort: focus ? { ...effort, samples: Math.max(8, effort.samples) } : effort,
            // As drafts are: few rays, smoothed within surfaces.
            denoise: passKind(kind).canDenoise,
          },
        ],
        seed: 0,
        preview: true,
      },
      (_order, rect, result) => onPixels(rect, result),
      signal,
    )
  } catch (error) {
    if (error instanceof CancelledError) return false
    throw error
  }
}
