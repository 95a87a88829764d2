import { disc, type TipKind } from './tip-kind'

/** A nib: a firm round point that spreads as it is pressed. */
export const ink: TipKind = {
  kind: 'ink',
  label: 'Ink',
  summary: 'A firm line that swells with the pressure and tapers.',
  brush: { spacing: 0.04, flow: 1, leastSize: 0.12, taperIn: 40, taperOut: 60, steady: 0.35 },
  touches: (x, y, _seed, fine) => disc(x, y, 0.96, fine),
}
