import type { NamedControl, ParamValue, ParamValues } from '../params'

const hex = (random: () => number): string =>
  `#${Math.floor(random() * 0x1000000)
    .toString(16)
    .padStart(6, '0')}`

/** Numbers from 0 to 1 that rise. */
const rising = (random: () => number, count: number): number[] =>
  Array.from({ length: count }, (_, i) => (i + 0.05 + 0.9 * random()) / count)

/** Any value a parameter may have. @param random gives numbers from 0 to below 1. */
export function anyValue(control: NamedControl, random: () => number): ParamValue {
  switch (control.control) {
    case 'number':
      return control.min + (control.max - control.min) * random()
    case 'toggle':
      return random() < 0.5
    case 'choice':
      return control.options[Math.floor(random() * control.options.length)].value
    case 'colour':
      return hex(random)
    case 'curve':
      return rising(random, 2 + Math.floor(4 * random())).map((x) => [x, random()])
    case 'stops':
      return rising(random, 2 + Math.floor(4 * random())).map((at) => [at, hex(random)])
    case 'range':
      return rising(random, 4).map((v) => control.min + (control.max - control.min) * v)
    case 'point':
      return [1.4 * random() - 0.2, 1.4 * random() - 0.2]
    case 'path':
      return Array.from({ length: 3 + Math.floor(6 * random()) }, () => [random(), random()])
    case 'palette':
      return Array.from({ length: 1 + Math.floor(6 * random()) }, () => hex(random))
    // Which there are is not the schema's to say.
    case 'map':
    case 'table':
    case 'layer':
      return control.default
  }
}

/** Any values that a schema's parameters may have. */
export const anyValues = (controls: readonly NamedControl[], random: () => number): ParamValues =>
  Object.fromEntries(controls.map((control) => [control.name, anyValue(control, random)]))
