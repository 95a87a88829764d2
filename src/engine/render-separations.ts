import type { ParamValues } from '@/core/params'
import type { EffortName } from '@/core/passes/effort'
import type { PassResult } from '@/core/passes/pass-result'
import type { PassOrder } from '@/core/passes/render-tile'
import { passKind } from '@/core/passes/registry'
import type { Tile } from '@/core/passes/tile'
import type { Frame } from '@/core/scene/camera'
import { partsWindow } from '@/core/scene/parts-window'
import type { ScenePart } from '@/core/scene/scene-geometry'
import type { PackedPicture, SeparationDesk } from '@/core/separate/separation-desk'
import type { DoneSet, SeparationReport, SetFiles } from '@/core/separate/separation-manifest'
import { setPivot } from '@/core/separate/set-pivot'
import {
  SET_SHADOW_EFFORTS,
  setDepthOrder,
  setOrder,
  setReflectionOrder,
  setShadowOrder,
  type PartSet,
  type SeparatePass,
  type Separation,
} from '@/core/separate/separations'
import type { RenderPool } from './render-pool'
import { runRender, type PlannedPass, type RenderPlan } from './run-render'
import { TILE_SIDE } from './tile-queue'

/** Sets that are rendered in one turn: others that wait for the workers come between. */
const SETS_A_TURN = 6
/** Numbers that depths of all sets may take together: more sets are put in order on a smaller picture. */
const DEPTH_NUMBERS = 48 * 2 ** 20

/** What is to be separated, and how. */
export interface SeparationRequest extends Omit<RenderPlan, 'passes' | 'preview'> {
  readonly sets: readonly PartSet[]
  /** All parts of the scene. */
  readonly parts: readonly ScenePart[]
  readonly how: Separation
  readonly pass: SeparatePass
  readonly look: ParamValues
  /** How a set's shadow is rendered and shown; null: it has none of its own. */
  readonly shadow: AlongWith | null
  /** Likewise its reflection on the ground, and what that is rendered with. */
  readonly reflection: (AlongWith & { readonly params: ParamValues }) | null
  /** What of it is rendered here, where others render the rest; all of it where left out. */
  readonly share?: SeparationShare
}

/** A share of a separation. What it tells as difference is 0: that is known when all shares come together. */
export interface SeparationShare {
  /** @param index which of the sets. @param order its place from the front. */
  readonly isOwn: (index: number, order: number) => boolean
  /** Takes all sets rendered at once; null: others do. */
  readonly whole: ((result: PassResult) => Promise<void>) | null
}

/** How what comes along with a set is rendered and shown. */
interface AlongWith {
  readonly quality: EffortName
  readonly look: ParamValues
}

/** One set, rendered. */
export interface SeparatedSet {
  /** Which of the sets. */
  readonly index: number
  /** Its place from the front: 0 is the frontmost. */
  readonly order: number
  readonly picture: PackedPicture
  readonly shadow: PackedPicture | null
  readonly reflection: PackedPicture | null
}

/** The pictures of a set under the names of their files. */
export const picturesOf = (separated: SeparatedSet, files: SetFiles) =>
  (['picture', 'shadow', 'reflection'] as const).flatMap((what) => {
    const [made, name] = [separated[what], files[what]]
    return made && name !== null ? [{ name, file: made.file }] : []
  })

/** What is told of a set that is done. */
export const doneOf = ({ index, order, picture, shadow, reflection }: SeparatedSet): DoneSet => ({
  index,
  order,
  picture: boxOf(picture),
  shadow: shadow && boxOf(shadow),
  reflection: reflection && boxOf(reflection),
})

/** Where sets are rendered. */
export interface SeparationPlace {
  /** The workers with the scene in them. */
  readonly workers: () => Promise<RenderPool>
  /** Waits until the workers are free for a piece of the work; at once where left out. */
  readonly turn?: <T>(work: () => Promise<T>) => Promise<T>
  /** Makes pictures of what is rendered. */
  readonly desk: DeskPort
}

/** A desk here or in a worker. */
export type DeskPort = {
  readonly [K in 'depth' | 'order' | 'picture' | 'nothing' | 'difference']: (
    ...args: Parameters<SeparationDesk[K]>
  ) => ReturnType<SeparationDesk[K]> | Promise<ReturnType<SeparationDesk[K]>>
}

/**
 * Renders sets of parts as pictures of their own, from the front to the back, and checks that they come together to the whole.
 * @param keep takes each as it is done: pictures are not held on to.
 * @param tell how much is done, 0…1.
 * @param traced told of the rays of each pass.
 * @throws as {@link runRender} does, and what `keep` throws.
 */
export async function renderSeparations(
  request: SeparationRequest,
  { workers, desk, turn = (work) => work() }: SeparationPlace,
  keep: (separated: SeparatedSet) => Promise<void>,
  signal: AbortSignal,
  tell: (share: number) => void = () => undefined,
  traced: (rays: number) => void = () => undefined,
): Promise<SeparationReport> {
  const { sets, parts, how, pass, look, shadow, reflection, frame, camera, rig, seed, share } = request
  const render = (passes: PlannedPass[], own: Frame, take: TakeResult, from: number, to: number) =>
    turn(() =>
      runRender(
        {
          plan: () => Promise.resolve({ camera, frame: own, rig, seed, preview: false, passes }),
          workers,
          note: (_planned, _name, { rays }) => {
            traced(rays)
            return Promise.resolve()
          },
        },
        { keep: async (planned, { result }) => (await take(planned, result), planned.id) },
        { onProgress: ({ done, total }) => tell(from + ((to - from) * done) / Math.max(1, total)) },
        signal,
      ),
    )
  const { partBoxes } = await turn(workers)
  const numberOf = new Map(parts.map(({ key }, number) => [key, number]))
  const numbersOf = (set: PartSet) => set.parts.flatMap((key) => numberOf.get(key) ?? [])
  const windowIn = (own: Frame) => (set: PartSet) =>
    partsWindow(partBoxes, numbersOf(set), camera, own, TILE_SIDE)

  // 1. What lies before what.
  const whole = sets.map(windowIn(frame))
  const small = depthFrame(frame, whole)
  const windows = sets.map(windowIn(small))
  await render(
    windows.flatMap((window, i) =>
      window ? [{ id: String(i), order: setDepthOrder(sets[i]), window }] : [],
    ),
    small,
    ({ id, window }, result) => (window ? desk.depth(Number(id), window, result) : undefined),
    0,
    0.05,
  )
  const set = await desk.order()
  const { front } = set

  // 2. The sets, frontmost first. Lines are found on the whole picture.
  const hasLines = passKind(pass.kind).lines !== null
  const cutOf = (index: number) => front.cuts[index].flatMap((other) => sets[other].parts)
  const mine = front.order.filter((index, order) => share?.isOwn(index, order) ?? true)
  const planned = mine.flatMap((index): PlannedPass[][] => {
    const set = sets[index]
    const window = whole[index]
    if (!window) return []
    const named = (what: What, order: PassOrder, place: Tile | null) => ({
      id: `${index} ${what}`,
      order,
      window: place,
    })
    const own = setOrder(pass, set, how, cutOf(index))
    const all = [named('own', own, hasLines ? null : window)]
    if (shadow) {
      const effort = SET_SHADOW_EFFORTS[shadow.quality]
      all.push(named('shadow', setShadowOrder(effort, set, parts, how, shadow.look, pass.rig), null))
    }
    if (reflection) {
      const effort = passKind('reflection').efforts[reflection.quality]
      const { params } = reflection
      all.push(named('reflection', setReflectionOrder(effort, set, parts, how, params, pass.rig), null))
    }
    return [all]
  })
  const done: DoneSet[] = []
  const keepNext = async (index: number, made: Omit<SeparatedSet, 'index' | 'order'>) => {
    const separated = { index, order: front.order.indexOf(index), ...made }
    await keep(separated)
    done.push(doneOf(separated))
  }
  /** What is nowhere in the picture was not rendered, and comes in its turn. */
  const keepNothing = async (before: number | null) => {
    while (done.length < mine.length && mine[done.length] !== before)
      await keepNext(mine[done.length], {
        picture: await desk.nothing(),
        shadow: shadow && (await desk.nothing()),
        reflection: reflection && (await desk.nothing()),
      })
  }
  /** Pictures of the set at work, which come one after the other. */
  const made = new Map<What, PackedPicture>()
  const looks: Readonly<Record<What, ParamValues | undefined>> = {
    own: look,
    shadow: shadow?.look,
    reflection: reflection?.look,
  }
  const last: What = reflection ? 'reflection' : shadow ? 'shadow' : 'own'
  const make = async ({ id, window = null }: PlannedPass, result: PassResult) => {
    const [index, what] = id.split(' ') as [string, What]
    made.set(what, await desk.picture(result, looks[what] ?? {}, window, what === 'own'))
    const picture = made.get('own')
    if (what !== last || !picture) return
    const along = { shadow: made.get('shadow') ?? null, reflection: made.get('reflection') ?? null }
    made.clear()
    await keepNothing(Number(index))
    await keepNext(Number(index), { picture, ...along })
  }
  // Pictures are made while the next sets are rendered, one turn behind: no more than that is held in memory.
  let making = Promise.resolve()
  const take: TakeResult = (own, result) => {
    making = making.then(() => make(own, result))
    // Told where it is waited for.
    making.catch(() => undefined)
  }
  let before = making
  for (let first = 0; first < planned.length; first += SETS_A_TURN) {
    const some = planned.slice(first, first + SETS_A_TURN)
    const shareAt = (number: number) => 0.05 + (0.88 * number) / planned.length
    await render(some.flat(), frame, take, shareAt(first), shareAt(first + some.length))
    await before
    before = making
  }
  await making
  await keepNothing(null)

  // 3. All at once, and how far they are from it.
  const all = { name: '', parts: sets.flatMap((set) => set.parts) }
  let difference = 0
  if (share?.whole !== null)
    await render(
      [{ id: 'all', order: setOrder(pass, all, how) }],
      frame,
      async (_planned, result) => {
        if (share?.whole) await share.whole(result)
        else difference = await desk.difference(result, look)
      },
      0.93,
      1,
    )
  const pivots = sets.map((own) => setPivot(partBoxes, numbersOf(own), camera, frame))
  return { set, pivots, done, difference }
}

const boxOf = ({ x, y, width, height }: PackedPicture) => ({ x, y, width, height })

/** What of a set is rendered. */
type What = 'own' | 'shadow' | 'reflection'

type TakeResult = (planned: PlannedPass, result: PassResult) => Promise<void> | void

/** The frame that sets are put in order in: as large as memory lets it be. */
function depthFrame({ width, height }: Frame, windows: readonly (Tile | null)[]): Frame {
  const numbers = windows.reduce((sum, window) => sum + (window ? window.width * window.height : 0), 0)
  const share = Math.min(1, Math.sqrt(DEPTH_NUMBERS / Math.max(1, numbers)))
  const side = (length: number) => Math.max(16, Math.round(length * share))
  return { width: side(width), height: side(height) }
}
