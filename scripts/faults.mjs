// Sessions that are cut off at any moment, for as many rounds as asked for: `node scripts/faults.mjs ROUNDS [SEED]`.
import { browserRounds } from './browser-rounds.mjs'

await browserRounds('tests/faults-rounds.ts', 'faults', 200)
