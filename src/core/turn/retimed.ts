import { frameCount, type Motion, type Turn } from './turn-schema'

/**
 * A turntable that moves otherwise: what happens in it keeps its place in the turns. Where frames come to lie on each other, the
 * earlier key stays.
 */
export function retimed(turn: Turn, motion: Motion): Turn {
  const factor = motion.framesPerTurn / turn.motion.framesPerTurn
  const last = frameCount(motion)
  const before = frameCount(turn.motion)
  // What stood at the very end stays there, however many turns there are.
  const at = (frame: number): number =>
    frame >= before ? last : Math.min(last, Math.max(0, Math.round(frame * factor)))
  const keys = <K extends { readonly at: number }>(list: readonly K[]): K[] => {
    let previous = -1
    return list.flatMap((key) => {
      const moved = at(key.at)
      if (moved <= previous) return []
      previous = moved
      return [{ ...key, at: moved }]
    })
  }
  const { camera } = turn
  return {
    ...turn,
    motion,
    camera: {
      push: keys(camera.push),
      raiseDeg: keys(camera.raiseDeg),
      shiftX: keys(camera.shiftX),
      shiftY: keys(camera.shiftY),
      views: keys(camera.views),
    },
    reveals: turn.reveals.map((reveal) => ({
      ...reveal,
      from: at(reveal.from),
      whole: at(reveal.whole),
      goes: reveal.goes === null ? null : at(reveal.goes),
      gone: reveal.gone === null ? null : at(reveal.gone),
    })),
    tracks: turn.tracks.map((track) => ({ ...track, keys: keys(track.keys) })),
    marks: turn.marks && [at(turn.marks[0]), Math.max(at(turn.marks[0]) + 1, at(turn.marks[1]))],
  }
}
