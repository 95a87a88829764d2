// Work at a large project that goes on for as long as asked for, and what is then held: `node scripts/long-use.mjs MINUTES`.
import { browserRounds } from './browser-rounds.mjs'

await browserRounds('tests/long-use-rounds.ts', 'long-use', 120)
