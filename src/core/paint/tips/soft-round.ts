import type { TipKind } from './tip-kind'

/** Falls off from the middle as a bell, to nothing at its rim. */
export const softRound: TipKind = {
  kind: 'softRound',
  label: 'Soft round',
  summary: 'Even and soft, for shade and light.',
  brush: { spacing: 0.08, flow: 0.35 },
  touches(x, y) {
    const r2 = x * x + y * y
    return r2 >= 1 ? 0 : (1 - r2) ** 2
  },
}
