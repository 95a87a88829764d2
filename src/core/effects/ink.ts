import { parseHex } from '../math/colour'
import { choiceParam, colourParam } from '../params'
import { brightness } from './pattern'

/** What print effects have in common: an ink, and what it is printed on. */
export const inkParams = {
  ink: colourParam({ label: 'Ink', default: '#221c1a' }),
  ground: choiceParam({
    label: 'On',
    options: { paper: 'Paper', clear: 'Nothing', picture: 'The picture' },
    default: 'paper',
  }),
  paper: colourParam({ label: 'Paper', default: '#f4ecdd' }),
}
interface InkValues {
  readonly ink: string
  readonly ground: 'paper' | 'clear' | 'picture'
  readonly paper: string
}

/** How dark a pixel is, 0…1: what is clear is as white as paper. */
export const darkness = (rgba: Float64Array): number => rgba[3] * (1 - brightness(rgba))

/** Gives what lays ink on a pixel. @returns changes straight `rgba`; `share` of it is inked. */
export function inking({ ink, ground, paper }: InkValues): (rgba: Float64Array, share: number) => void {
  const [own, under] = [parseHex(ink), parseHex(paper)]
  return (rgba, share) => {
    if (ground === 'clear') {
      for (let c = 0; c < 3; c++) rgba[c] = own[c]
      rgba[3] = share
      return
    }
    if (ground === 'paper') {
      for (let c = 0; c < 3; c++) rgba[c] = under[c] + share * (own[c] - under[c])
      rgba[3] = 1
      return
    }
    for (let c = 0; c < 3; c++) rgba[c] += share * (own[c] - rgba[c])
  }
}
