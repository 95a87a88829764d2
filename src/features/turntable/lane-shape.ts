import { layerOfTrack } from '@/core/turn/keyable'
import { revealedShare } from '@/core/turn/reveal'
import { frameCount, type CameraLanes, type Turn } from '@/core/turn/turn-schema'
import { eased, trackValue } from '@/core/sheet/tracks'
import type { SheetNode } from '@/core/sheet/sheet-schema'

/** How much of a layer is seen in a frame, 0…1: what its lane is as high as. */
export function seenShare(node: SheetNode, { reveals, tracks }: Turn, frame: number): number {
  const own = tracks.filter((track) => layerOfTrack(track) === node.id && track.path.length === 3)
  const valueOf = <T>(name: string, rest: T): T => {
    const track = own.find(({ path }) => path[2] === name)
    return track ? (trackValue(track, frame, typeof rest === 'number' ? 'number' : 'step') as T) : rest
  }
  const coming = reveals.filter(({ layerId }) => layerId === node.id)
  if (!valueOf('visible', node.visible || coming.length > 0)) return 0
  return coming.reduce(
    (share, reveal) => share * revealedShare(reveal, frame),
    valueOf('opacity', node.opacity),
  )
}

/** Frames at which a lane is looked at: all of a short turntable, so many of a long one. */
const MOST_SAMPLES = 480

/** A lane as a filled shape, in a box as wide as the turntable is long and as high as 1; it stands on its floor. */
export function lanePath(count: number, at: (frame: number) => number): string {
  const step = Math.max(1, count / MOST_SAMPLES)
  const points: string[] = [`M0 1`]
  let [last, isFlat] = [NaN, false]
  const height = (frame: number) => Number((1 - Math.min(1, Math.max(0, at(frame)))).toFixed(4))
  for (let frame = 0; frame < count; frame += step) {
    const y = height(frame)
    // Of what stays the same only the ends are needed.
    if (y === last) isFlat = true
    else {
      if (isFlat) points.push(`L${Number((frame - step).toFixed(2))} ${last}`)
      points.push(`L${Number(frame.toFixed(2))} ${y}`)
      isFlat = false
    }
    last = y
  }
  // The last moment is where it closes: as high as just before.
  points.push(`L${count} ${height(count - 0.001)}`, `L${count} 1`, 'Z')
  return points.join('')
}

/** How far the camera has gone along its lanes, 0…1 of the farthest that it goes: its lane's height. */
export function cameraShare(camera: CameraLanes, frame: number): number {
  const lanes = [
    [camera.push, 1],
    [camera.raiseDeg, 0],
    [camera.shiftX, 0],
    [camera.shiftY, 0],
  ] as const
  const shares = lanes.flatMap(([keys, rest]) => {
    const far = Math.max(0, ...keys.map(({ value }) => Math.abs(value - rest)))
    if (far === 0) return []
    const value = trackValue({ keys: [...keys] }, frame, 'number') as number
    return [Math.abs(value - rest) / far]
  })
  if (camera.views.length > 1) {
    const first = camera.views[0].at
    const last = camera.views[camera.views.length - 1].at
    shares.push(eased('even', Math.min(1, Math.max(0, (frame - first) / Math.max(1, last - first)))))
  }
  return Math.max(0, ...shares)
}

/** A comb: a tooth for each frame, where frames are closer than a pixel one for several. */
export interface Teeth {
  /** Frames that are there, long; at work, long; missing, short. Paths in a box of `width` by 1. */
  readonly there: string
  readonly atWork: string
  readonly missing: string
}

export function combTeeth(
  names: readonly string[],
  isThere: (name: string) => boolean,
  atWork: ReadonlySet<number>,
  width: number,
): Teeth {
  const count = names.length
  const teeth = Math.min(count, Math.max(1, Math.floor(width / 2)))
  const paths = { there: '', atWork: '', missing: '' }
  for (let tooth = 0; tooth < teeth; tooth++) {
    const from = Math.floor((tooth * count) / teeth)
    const to = Math.max(from + 1, Math.floor(((tooth + 1) * count) / teeth))
    let [there, busy] = [true, false]
    for (let frame = from; frame < to; frame++) {
      there &&= isThere(names[frame])
      busy ||= atWork.has(frame)
    }
    const kind = busy && !there ? 'atWork' : there ? 'there' : 'missing'
    const x = Number((((from + to) / 2 / count) * width).toFixed(2))
    paths[kind] += `M${x} 0V${kind === 'missing' ? 0.55 : 1}`
  }
  return paths
}

export const durationInWords = (turn: Pick<Turn, 'motion'>): string => {
  const { motion } = turn
  const seconds = frameCount(motion) / motion.rate
  return `${Number(seconds.toFixed(2))} s, ${Number(motion.rate.toFixed(3))} a second`
}
