import { disc, type TipKind } from './tip-kind'

/** A disc. */
export const hardRound: TipKind = {
  kind: 'hardRound',
  label: 'Hard round',
  summary: 'A firm edge, for shapes.',
  brush: { spacing: 0.06, flow: 1 },
  touches: (x, y, _seed, fine) => disc(x, y, 0.97, fine),
}
