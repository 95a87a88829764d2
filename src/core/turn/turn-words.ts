import type { Words } from '../sheet/words-in-type'
import { placeInTurns } from './turn-motion'
import { frameCount, type Motion } from './turn-schema'

/** Words that type in a turntable may hold in braces, and what they stand for. */
export const turnWordLabels = {
  frame: 'the frame',
  frames: 'how many frames there are',
  turn: 'the turn',
  turns: 'how many turns there are',
  angle: 'the angle in degrees',
  seconds: 'the time in seconds',
} as const

/** What these words stand for in a frame. */
export function turnWords(motion: Motion, frame: number): Words {
  const count = frameCount(motion)
  const at = ((Math.floor(frame) % count) + count) % count
  const { turn, deg } = placeInTurns(motion, at)
  return {
    frame: String(at),
    frames: String(count),
    turn: String(turn + 1),
    turns: String(motion.turns),
    angle: String(Math.round(deg) % 360),
    seconds: (at / motion.rate).toFixed(2),
  }
}
