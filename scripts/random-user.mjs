// A user who does anything at all, for as many rounds as asked for: `node scripts/random-user.mjs ROUNDS [SEED]`.
import { browserRounds } from './browser-rounds.mjs'

await browserRounds('tests/random-user-rounds.ts', 'random-user', 50)
