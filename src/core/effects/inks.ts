import { z } from 'zod'
import { linearToSrgbFast } from '../math/colour'
import { choiceParam, colourParam, grouped, numberParam, paletteParam, toggleParam } from '../params'
import { dotScreen } from './dot-screen'
import { defineEffect, type EffectWork } from './effect-kind'
import { MOST_INKS, overprint, separationOf, type Separation } from './ink-separation'
import { plateSlips, slipped } from './plate-slip'

const angle = (label: string, byDefault: number) =>
  numberParam({ label, unit: '°', min: -90, max: 90, step: 1, default: byDefault })

/** Prints in a few inks of one's own: each colour becomes so much of each, and what they make over each other is seen. */
export const inks = defineEffect({
  kind: 'inks',
  version: 1,
  label: 'Inks',
  group: 'Print and pen',
  summary: 'Separates into one to four inks and prints them over each other.',
  schema: z.object({
    inks: paletteParam({ label: 'Inks', default: ['#c8452b', '#1f4a5c'] }),
    paper: colourParam({ label: 'Paper', default: '#ffffff' }),
    show: choiceParam({
      label: 'Shows',
      options: {
        together: 'All over each other',
        first: 'First plate',
        second: 'Second plate',
        third: 'Third plate',
        fourth: 'Fourth plate',
      },
      default: 'together',
    }),
    ...grouped('Screen', {
      screened: toggleParam({ label: 'In dots', default: false }),
      size: numberParam({ label: 'Cell', unit: 'px', min: 2, max: 80, step: 0.5, default: 8 }),
      spot: choiceParam({
        label: 'Dots',
        options: { round: 'Round', square: 'Square', diamond: 'Diamond' },
        default: 'round',
      }),
      angle1: angle('First angle', 15),
      angle2: angle('Second angle', 75),
      angle3: angle('Third angle', 0),
      angle4: angle('Fourth angle', 45),
    }),
    ...grouped('Misregister', {
      slip: numberParam({ label: 'Slipped by', unit: 'px', min: 0, max: 80, step: 0.1, default: 0 }),
      slipTurnDeg: numberParam({ label: 'Turned by', unit: '°', min: 0, max: 2, step: 0.01, default: 0 }),
      slipSeed: numberParam({ label: 'Seed', min: 0, max: 9999, step: 1, default: 1 }),
    }),
  }),
  work(params) {
    const { inks: colours, paper, show, screened, size, spot, slip, slipTurnDeg, slipSeed } = params
    const amounts = new Float64Array(MOST_INKS)
    const light = new Float64Array(3)
    const plate = ['first', 'second', 'third', 'fourth'].indexOf(show)
    let found: Separation | null = null
    // Made when it is first asked for: planning makes none.
    const table = (): Separation => (found ??= separationOf(paper, colours))
    /** Writes what the amounts look like. */
    const show01 = (rgb: Float64Array): void => {
      if (plate >= 0) {
        rgb.fill(plate < colours.length ? 1 - amounts[plate] : 1, 0, 3)
        return
      }
      overprint(table().set, amounts, light)
      for (let c = 0; c < 3; c++) rgb[c] = linearToSrgbFast(light[c])
    }
    // A plate that is seen alone lies on its marks: only over each other they are off.
    const isOff = plate < 0 && (slip > 0 || slipTurnDeg > 0)
    if (!screened && !isOff)
      return {
        by: 'colour',
        change(rgb) {
          table().amounts(rgb[0], rgb[1], rgb[2], amounts)
          show01(rgb)
        },
      }
    const angles = [params.angle1, params.angle2, params.angle3, params.angle4]
    const screens = screened ? angles.map((deg) => dotScreen(spot, size, deg)) : null
    // A dot knows the tone about it, not that of a point.
    const softened: EffectWork[] = screened ? [{ by: 'blur', sigmaPx: size / 5 }] : []
    const slips = isOff ? plateSlips(colours.length, slip, slipTurnDeg, slipSeed) : []
    const own = new Float64Array(MOST_INKS)
    return {
      by: 'point',
      isHeavy: true,
      beside: isOff ? slips.map((one) => [slipped(one, slip, slipTurnDeg), ...softened]) : [softened],
      change(rgba, place) {
        const set = table()
        const count = set.set.inks.length
        if (isOff)
          for (let k = 0; k < count; k++) {
            const [r, g, b, alpha] = place.beside[k]
            set.amounts(r, g, b, own)
            // Where its picture has nothing it lays no ink.
            amounts[k] = own[k] * alpha
          }
        else {
          const [about] = place.beside
          set.amounts(about[0], about[1], about[2], amounts)
        }
        if (screens) for (let k = 0; k < count; k++) amounts[k] = screens[k](amounts[k], place)
        show01(rgba)
      },
    }
  },
})
