import { compose } from './compose'
import { hang } from './hang'
import { inspect } from './inspect'
import { join } from './join'
import { kinds } from './kinds'
import { lines } from './lines'
import { render } from './render'
import { scene } from './scene'
import { separate } from './separate'
import { serve } from './serve'
import { turn } from './turn'
import { work } from './work'
import { ZodError } from 'zod'
import { tellLast } from './told'
import { UsageError } from './usage-error'
import { removeUnfinished } from './write-file'

const COMMANDS = {
  inspect,
  render,
  compose,
  turn,
  join,
  hang,
  lines,
  separate,
  scene,
  serve,
  work,
  kinds,
} as const

/** Signals that end it, with what it has begun to write. */
const ENDING = ['SIGINT', 'SIGTERM'] as const

const USAGE = `relief inspect MODEL…
relief render  MODEL…|PROJECT --passes clay,occlusion,… --size WxH --out DIR
relief compose SHEET.json|PROJECT|FILE.ora --out FILE.png|.exr|.ora [--size WxH] [--sheet NAME] [--format png|png16|exr|ora] [--threads N]
relief turn    PROJECT --out DIR|FILE.gif|.apng|.webp|.mp4|.webm [--turn NAME] [--frames A-B] [--size WxH] [--format png|png16|exr] [--shard I/N] [--resume]
relief join    DIR… --out DIR|FILE.gif|.apng|.webp|.mp4|.webm
relief hang    MODEL…|PROJECT --recipe NAME|FILE.zip --size WxH --out FILE.png|.zip [--answer "name=part,…"]
relief lines   MODEL…|PROJECT --kinds silhouette,crease,… --size WxH --out FILE.svg
relief separate MODEL…|PROJECT --sets all|1,3-5 | --parts PATTERN --out DIR [--whole|--seen] [--shadows] [--reflections] [--trim] [--pass KIND]
relief scene   MODEL…|PROJECT --out FILE.glb
relief serve   --store DIR [--host HOST] [--port N] [--token TOKEN] [--workers N] [--threads N] [--shards N] [--redis URL]
relief work    --store DIR [--redis URL] [--threads N]
relief kinds   passes|effects|terms|contents|modes|formats`

/** An error in one line. What a schema refuses is named by its field, the rule and nothing else. */
function wordsOf(error: unknown): string {
  if (error instanceof ZodError) {
    const [issue] = error.issues
    return `${issue.path.join('.') || 'the value'}: ${issue.message}`
  }
  return error instanceof Error ? error.message : String(error)
}

/** Runs the headless command. @returns the exit code: 0 all written, 1 an input failed, 2 wrong use. */
export async function main(argv: readonly string[]): Promise<number> {
  const [name, ...rest] = argv
  const command =
    name !== undefined && Object.hasOwn(COMMANDS, name) ? COMMANDS[name as keyof typeof COMMANDS] : null
  if (!command) {
    process.stderr.write(USAGE + '\n')
    return 2
  }
  // These go on until they are told to end, and put things in order then.
  const isServing = command === serve || command === work
  const stop = (signal: NodeJS.Signals) => {
    removeUnfinished()
    // As shells report a command that a signal ended.
    process.exit(signal === 'SIGINT' ? 130 : 143)
  }
  if (!isServing) for (const signal of ENDING) process.once(signal, stop)
  // Whoever started it as a share of a job is gone: nobody waits for it any more.
  const leave = () => stop('SIGTERM')
  if (!isServing) process.once('disconnect', leave)
  process.channel?.unref()
  try {
    await command(rest)
    tellLast()
    return 0
  } catch (error) {
    const line = wordsOf(error).split('\n')[0]
    process.stderr.write(`relief ${name}: ${line}\n`)
    if (error instanceof UsageError) return 2
    return 1
  } finally {
    for (const signal of ENDING) process.off(signal, stop)
    process.off('disconnect', leave)
  }
}
