import { hashJson } from '@/core/math/stable-hash'
import type { PassFacts } from '@/core/passes/pass-facts'
import type { PassResult } from '@/core/passes/pass-result'
import { showsMaterial } from '@/core/passes/material-touches'
import { passKind, type PassKindName } from '@/core/passes/registry'
import { memberRig } from '@/core/passes/render-tile'
import type { Tile } from '@/core/passes/tile'
import type { ChannelData } from '@/core/picture/channel'
import type { Frame } from '@/core/scene/camera'
import { registrationHash } from '@/core/scene/registration'
import { renderedLights } from '@/core/scene/rendered-light'
import { OPAQUE } from '@/core/scene/scene-geometry'
import { newId } from '@/data/new-project'
import { storageProblem } from '@/data/project-repository'
import { changedMaterials, currentRegistration } from '@/data/project-scene'
import { dropBlocks, type JobRecord } from '@/data/render-jobs'
import { fetchBlocks, fetchResult, storeBlock, storeResult } from '@/data/storage-service'
import type { KeptPass, PassTally, RenderedPass } from '@/engine/render-request'
import type { PlannedPass, RenderPlan, RenderTiles } from '@/engine/run-render'
import { isOnlyMaterials, passStatus } from './pass-status'
import type { ProjectRender } from './project-render'
import { toSceneKey } from './render-scene'

/** The stored job that blocks are counted in. */
export interface StoredJob {
  /** What is stored of the job as it is now; undefined once it was ended. */
  readonly record: () => JobRecord | undefined
  /** Takes the record that counts a finished block, and the promise of both being stored. */
  readonly onKept: (next: JobRecord, stored: Promise<void>) => void
  /** Takes these passes from the job: they are stored whole. */
  readonly onDone: (passIds: readonly string[]) => void
}

/** Finished blocks and passes of a project's render in this browser's storage. */
export class StoredTiles implements RenderTiles {
  /** Blocks go to storage one after the other; one that cannot be stored stops no render. */
  private storing: Promise<void> = Promise.resolve()
  private canStore = true
  private key = ''

  constructor(
    private readonly render: ProjectRender,
    private readonly job: StoredJob,
  ) {}

  /**
   * Blocks of this job from before a pause or a reload; else, where nothing but materials changed since a pass was last
   * rendered, the tiles that do not show them.
   */
  readonly found = async (passes: readonly PlannedPass[], plan: RenderPlan): Promise<(KeptPass | null)[]> => {
    this.key = this.keyOf(passes, plan)
    this.canStore = true
    const record = this.job.record()
    if (record?.key === this.key) return commonBlocks(record, passes, plan)
    if (record?.key) await dropBlocks(record.id)
    const kept = await Promise.all(passes.map((pass) => this.keptTiles(pass)))
    // Blocks of a render of some tiles alone would not tell what the tiles they kept show: it is begun again instead.
    this.canStore = !kept.some((part) => part?.tiles)
    return kept
  }

  readonly keepBlock = (
    passes: readonly PlannedPass[],
    block: number,
    rect: Tile,
    results: readonly PassResult[],
    told: readonly PassFacts[],
    tallies: readonly PassTally[],
  ): void => {
    const record = this.job.record()
    if (!this.canStore || !record) return
    const next: JobRecord = {
      ...record,
      key: this.key,
      passes: Object.fromEntries(passes.map(({ id }, i) => [id, { ...tallies[i] }])),
    }
    const parts = results.map(({ channels, width }, i) => ({
      passId: passes[i].id,
      channels: channels.map((channel) => cutOut(channel, width, rect)),
      told: told[i],
    }))
    this.storing = this.storing
      .then(() => (this.job.record() ? storeBlock(next, block, rect, parts) : undefined))
      .catch(() => void (this.canStore = false))
    this.job.onKept(next, this.storing)
  }

  readonly settled = (): Promise<void> => this.storing

  readonly keep = async (_pass: PlannedPass, { result }: RenderedPass): Promise<string> => {
    const resultId = newId()
    try {
      await storeResult(this.render.now.project.id, resultId, result)
    } catch (error) {
      throw new Error(storageProblem(error), { cause: error })
    }
    return resultId
  }

  readonly done = async (passes: readonly PlannedPass[]): Promise<void> => {
    this.job.onDone(passes.map(({ id }) => id))
    const record = this.job.record()
    if (record) await dropBlocks(record.id)
  }

  /** Hash of everything that the blocks of these passes depend on. */
  private keyOf(passes: readonly PlannedPass[], plan: RenderPlan): string {
    const { project, shot } = this.render.now
    return hashJson([
      toSceneKey(project),
      registrationHash(currentRegistration(project, shot)),
      passes.map(({ id, order }) => [
        id,
        renderedLights(order.rig ?? plan.rig).map((light) => [light.id, light.shape]),
      ]),
      passes.map(({ order: { members, rig: _rig, ...order } }) => [order, members]),
    ])
  }

  /** The tiles of a pass that show none of the materials which changed; null where something else did. */
  private async keptTiles(planned: PlannedPass): Promise<KeptPass | null> {
    const { project } = this.render.now
    const pass = this.render.passOf(planned)
    const { rendered } = pass
    const quality = this.job.record()?.quality
    if (!ONE_MATERIAL.includes(pass.kind) || !rendered || rendered.quality !== quality || rendered.denoised)
      return null
    if (quality === 'custom' || planned.order.denoise) return null
    if (passStatus(project, pass).state !== 'out of register' || !isOnlyMaterials(project, pass)) return null
    const changed = changedMaterials(project, pass).map(({ key }) => key)
    const all = project.models.flatMap((model) => model.materials)
    // Glass that became solid, or the other way round, changes shadows anywhere.
    const numbers = changed.map((key) => all.findIndex((m) => m.key === key))
    const before = new Map(rendered.surfaces.map((s) => [s.material, s.opacity]))
    if (numbers.some((n) => (before.get(all[n].key) ?? 1) < OPAQUE !== all[n].opacity < OPAQUE)) return null
    const result = await fetchResult(project.id, rendered)
    if (!result) return null
    const { rig, members } = planned.order
    const lights = rig ? renderedLights(memberRig(rig, members)) : result.lights
    return {
      result: { ...result, lights },
      blocks: new Set(),
      tiles: showsMaterial(rendered.facts, numbers),
      told: structuredClone(rendered.facts),
      tally: NOTHING_YET,
    }
  }
}

/** Passes that know which of their tiles show a material, straight, mirrored or through glass. */
export const ONE_MATERIAL: readonly PassKindName[] = ['lit', 'reflection']

const NOTHING_YET: PassTally = { rays: 0, seconds: 0, samples: 0 }

/** The blocks of a job that are there in every pass: what is counted belongs to all of them. */
async function commonBlocks(
  record: JobRecord,
  passes: readonly PlannedPass[],
  { frame, rig }: RenderPlan,
): Promise<KeptPass[]> {
  const parts: KeptPass[] = []
  for (const pass of passes) parts.push(await keptBlocks(record, pass, frame, pass.order.rig ?? rig))
  const common = [...(parts[0]?.blocks ?? [])].filter((block) => parts.every((p) => p.blocks.has(block)))
  return parts.map((part) => ({ ...part, blocks: new Set(common) }))
}

async function keptBlocks(
  record: JobRecord,
  { id, order: { kind, params, members } }: PlannedPass,
  frame: Frame,
  rig: RenderPlan['rig'],
): Promise<KeptPass> {
  const lights = renderedLights(memberRig(rig, members))
  const { channels: specs, facts: rules } = passKind(kind)
  const { channels, blocks } = await fetchBlocks(record.id, id, specs(lights, params), frame)
  const told = blocks.reduce<PassFacts>((all, b) => rules?.merge(all, b.told) ?? {}, {})
  return {
    result: { kind, ...frame, channels, surfaces: [], lights, params, facts: {} },
    blocks: new Set(blocks.map((b) => b.block)),
    told,
    tally: record.passes[id] ?? NOTHING_YET,
  }
}

/** A rectangle of a channel by itself. */
function cutOut(channel: ChannelData, pictureWidth: number, rect: Tile): ChannelData {
  const out = channel.slice(0, rect.width * rect.height)
  for (let row = 0; row < rect.height; row++) {
    const from = (rect.y + row) * pictureWidth + rect.x
    out.set(channel.subarray(from, from + rect.width), row * rect.width)
  }
  return out
}
