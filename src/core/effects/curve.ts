import { z } from 'zod'
import { monotoneCurve } from '../math/monotone-curve'
import { choiceParam, curveParam } from '../params'
import { defineEffect } from './effect-kind'

const CHANNELS = { red: 0, green: 1, blue: 2 } as const

/** Bends tones along a curve through points (Fritsch and Carlson 1980): all of them alike, one channel, or lightness in OKLab. */
export const curve = defineEffect({
  kind: 'curve',
  version: 1,
  label: 'Curve',
  group: 'Tone',
  summary: 'Bends tones along a curve drawn through points.',
  schema: z.object({
    points: curveParam({
      label: 'Curve',
      default: [
        [0, 0],
        [0.25, 0.22],
        [0.75, 0.8],
        [1, 1],
      ],
    }),
    channel: choiceParam({
      label: 'Works on',
      options: { all: 'All', red: 'Red', green: 'Green', blue: 'Blue', lightness: 'Lightness only' },
      default: 'all',
    }),
  }),
  neutral: {
    points: [
      [0, 0],
      [1, 1],
    ],
  },
  work({ points, channel }) {
    const bent = monotoneCurve(points)
    if (channel === 'all') return { by: 'tone', curve: bent }
    if (channel !== 'lightness')
      return { by: 'tone', isEach: true, curve: (v, c) => (c === CHANNELS[channel] ? bent(v) : v) }
    return {
      by: 'colour',
      space: 'oklab',
      change(lab) {
        lab[0] = bent(Math.min(1, lab[0]))
      },
    }
  },
})
