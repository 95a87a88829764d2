import { canvasDrag } from './canvas-drag'
import { chalk } from './chalk'
import { charcoal } from './charcoal'
import { dryBristle } from './dry-bristle'
import { hardRound } from './hard-round'
import { hatch } from './hatch'
import { ink } from './ink'
import { softRound } from './soft-round'
import { spatter } from './spatter'
import { sponge } from './sponge'
import type { TipKind } from './tip-kind'

/** Every tip, in the order it is offered. Adding one is its file and its line here. */
export const TIPS: readonly TipKind[] = [
  chalk,
  softRound,
  hardRound,
  charcoal,
  dryBristle,
  ink,
  spatter,
  hatch,
  canvasDrag,
  sponge,
]

const byName = new Map(TIPS.map((tip) => [tip.kind, tip]))
if (byName.size !== TIPS.length) throw new Error('two tips have one name')

export const findTip = (kind: string): TipKind | undefined => byName.get(kind)
