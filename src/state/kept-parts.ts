import { showsMaterial } from '@/core/passes/lit'
import type { PassFacts } from '@/core/passes/pass-facts'
import { passKind } from '@/core/passes/registry'
import { memberRig, type PassOrder } from '@/core/passes/render-tile'
import type { Frame } from '@/core/scene/camera'
import { renderedLights } from '@/core/scene/rendered-light'
import { OPAQUE } from '@/core/scene/scene-geometry'
import { rigOfPass } from '@/data/active-shot'
import { changedMaterials } from '@/data/project-scene'
import type { Project, ProjectPass, Quality } from '@/data/project-schema'
import { dropBlocks, type JobRecord } from '@/data/render-jobs'
import { fetchBlocks, fetchResult } from '@/data/storage-service'
import type { KeptPass } from '@/engine/render-request'
import { isOnlyMaterials, passStatus } from './pass-status'

/**
 * For each pass what of it need not be rendered: blocks of this job from before a pause or a reload; else, where nothing
 * but materials changed since it was last rendered, the tiles that do not show them.
 */
export async function keptParts(
  record: JobRecord,
  key: string,
  project: Project,
  passes: readonly ProjectPass[],
  orders: readonly PassOrder[],
  frame: Frame,
): Promise<(KeptPass | null)[]> {
  if (record.key === key) {
    const parts: (KeptPass | null)[] = []
    for (const pass of passes) {
      const lights = renderedLights(memberRig(rigOfPass(project, pass), pass.members))
      const specs = passKind(pass.kind).channels(lights, pass.params)
      const { channels, blocks } = await fetchBlocks(record.id, pass.id, specs, frame)
      const tally = record.passes[pass.id] ?? { rays: 0, seconds: 0, samples: 0 }
      const rules = passKind(pass.kind).facts
      const told = blocks.reduce((all, b) => rules?.merge(all, b.told) ?? {}, {} as PassFacts)
      const result = {
        kind: pass.kind,
        ...frame,
        channels,
        surfaces: [],
        lights,
        params: pass.params,
        facts: {},
      }
      parts.push({ result, blocks: new Set(blocks.map((b) => b.block)), told, tally })
    }
    // Counts belong to blocks that are there in every pass.
    const common = [...(parts[0]?.blocks ?? [])].filter((block) => parts.every((p) => p?.blocks.has(block)))
    return parts.map((part) => part && { ...part, blocks: new Set(common) })
  }
  if (record.key) await dropBlocks(record.id)
  return Promise.all(passes.map((pass, i) => keptTiles(record.quality, project, pass, orders[i])))
}

/** See {@link keptParts}. */
async function keptTiles(
  quality: Quality,
  project: Project,
  pass: ProjectPass,
  order: PassOrder,
): Promise<KeptPass | null> {
  const { rendered } = pass
  if (pass.kind !== 'lit' || !rendered || rendered.quality !== quality || rendered.denoised) return null
  if (quality === 'custom' || order.denoise || passStatus(project, pass).state !== 'out of register')
    return null
  if (!isOnlyMaterials(project, pass)) return null
  const changed = changedMaterials(project, pass).map(({ key }) => key)
  const all = project.models.flatMap((model) => model.materials)
  // Glass that became solid, or the other way round, changes shadows anywhere.
  const numbers = changed.map((key) => all.findIndex((m) => m.key === key))
  const before = new Map(rendered.surfaces.map((s) => [s.material, s.opacity]))
  if (numbers.some((n) => (before.get(all[n].key) ?? 1) < OPAQUE !== all[n].opacity < OPAQUE)) return null
  const result = await fetchResult(project.id, rendered)
  if (!result) return null
  const lights = renderedLights(memberRig(rigOfPass(project, pass), pass.members))
  return {
    result: { ...result, lights },
    blocks: new Set(),
    tiles: showsMaterial(rendered.facts, numbers),
    told: structuredClone(rendered.facts),
    tally: { rays: 0, seconds: 0, samples: 0 },
  }
}
