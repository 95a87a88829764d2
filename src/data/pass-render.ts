import { passKind } from '@/core/passes/registry'
import { storedSurfaces, type PassResult } from '@/core/passes/pass-result'
import type { PassOrder } from '@/core/passes/render-tile'
import { rigOfPass } from './active-shot'
import { currentRegistration, materialHashes } from './project-scene'
import type { Project, ProjectPass, Quality, Rendered, Shot } from './project-schema'

/** What renders a pass of a project. */
export const orderOf = (project: Project, pass: ProjectPass, quality: Quality): PassOrder => ({
  kind: pass.kind,
  params: pass.params,
  effort: quality === 'custom' ? pass.effort : passKind(pass.kind).efforts[quality],
  members: pass.members,
  rig: rigOfPass(project, pass),
  // Drafts have few rays and are always smoothed.
  denoise: (pass.denoise || quality === 'draft') && passKind(pass.kind).canDenoise,
})

/** What a project keeps of a pass that was rendered. @param asked the pass as it was when that began. */
export const renderedOf = (
  project: Project,
  shot: Shot,
  asked: ProjectPass,
  order: PassOrder,
  quality: Quality,
  resultId: string,
  made: { readonly result: PassResult; readonly rays: number; readonly seconds: number },
): Rendered => ({
  resultId,
  registration: currentRegistration(project, shot),
  params: asked.params,
  quality,
  width: shot.frame.width,
  height: shot.frame.height,
  surfaces: storedSurfaces(made.result.surfaces),
  facts: made.result.facts,
  members: asked.members,
  denoised: order.denoise ?? false,
  materials: materialHashes(project, asked.kind),
  lights: made.result.lights.map((light) => ({ ...light })),
  rays: made.rays,
  seconds: made.seconds,
  samples: order.effort.samples,
})
