import { createHash } from 'node:crypto'
import { z } from 'zod'
import { extension } from '@/core/formats/file-bundle'
import { canonicalJson } from '@/core/math/stable-hash'
import { composeOptions } from '../compose'
import { filmEnding } from '../film'
import { hangOptions } from '../hang'
import { linesOptions } from '../lines'
import { renderOptions } from '../render'
import { sceneOptions } from '../scene'
import { separateOptions } from '../separate'
import { MOST_SHARDS } from '../shards'
import { turnOptions } from '../turn'

/** What a server renders for others: commands, what each is asked with, and whether it is dealt out, where none of these is asked for. */
const COMMANDS = {
  render: { options: renderOptions, isShared: true, unless: ['denoise', 'together'], out: null },
  separate: { options: separateOptions, isShared: true, unless: ['atlas', 'scales', 'backdrop'], out: null },
  turn: { options: turnOptions, isShared: true, unless: [], out: null },
  compose: { options: composeOptions, isShared: false, unless: [], out: 'sheet.png' },
  lines: { options: linesOptions, isShared: false, unless: [], out: 'lines.svg' },
  scene: { options: sceneOptions, isShared: false, unless: [], out: 'scene.glb' },
  hang: { options: hangOptions, isShared: false, unless: [], out: 'picture.png' },
} as const
export type JobCommand = keyof typeof COMMANDS
const COMMAND_NAMES = Object.keys(COMMANDS) as [JobCommand, ...JobCommand[]]

/** Decided by who renders, never by who asks. */
const OWN_OPTIONS = ['out', 'threads', 'overwrite', 'resume', 'shard', 'report'] as const

const MOST_FILES = 512
/** What stands beside a model and is read by it. */
const COMPANIONS = ['mtl', 'bin', 'png', 'jpg', 'jpeg', 'webp', 'hdr', 'exr', 'txt']

const STEP = /^[^\\/:*?"<>|\p{Cc}]{1,120}$/u
/** Names that some systems keep for themselves. */
const RESERVED = /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i

/** A name below the folder of a job: plain steps, none of which leads out. */
export const isPlainPath = (name: string): boolean =>
  name.length <= 400 &&
  name
    .split('/')
    .every(
      (step) =>
        STEP.test(step) && !/^\.|[. ]$|^ /.test(step) && !RESERVED.test(step) && !step.startsWith('-'),
    )

const fileName = z.string().refine(isPlainPath, 'is no plain file name, or folders and one')
/** Looked through for what does not belong: a whole pattern would go through large files again and again. */
const base64 = z
  .string()
  .refine((text) => text.length % 4 === 0 && !/[^A-Za-z0-9+/=]|=[^=]|={3}/.test(text), 'is no base64')
/** Exactly one way that bytes are given. */
const fileSchema = z
  .strictObject({ name: fileName, text: z.string().optional(), base64: base64.optional() })
  .refine(
    ({ text, base64 }) => (text === undefined) !== (base64 === undefined),
    'takes either text or base64',
  )

const number = z.number().refine(Number.isFinite)
const word = z.string().max(2000)
const valueSchema = z.union([
  word,
  number,
  z.boolean(),
  z.array(z.union([word, number])).max(2000),
  z.strictObject({ width: z.number().int(), height: z.number().int() }),
])

const headSchema = z.object({
  command: z.enum(COMMAND_NAMES),
  files: z.array(fileSchema).min(1).max(MOST_FILES),
  /** Which of the files the command is given, in order; all that do not stand beside another where left out. */
  inputs: z.array(fileName).min(1).max(MOST_FILES).optional(),
  /** What the result is called, where it is one file. */
  out: fileName.refine((name) => !name.includes('/'), 'is one plain file name').optional(),
  /** Into how many shares it is dealt out. */
  shards: z.number().int().min(1).max(MOST_SHARDS).optional(),
})

/** A job as it is kept. */
export const jobSchema = z.object({
  id: z.string().regex(/^[0-9a-f]{32}$/),
  command: z.enum(COMMAND_NAMES),
  /** What the command is called with, without where it writes and which share. */
  args: z.array(z.string()),
  /** Of one file; null: results are a folder of files. */
  out: z.string().nullable(),
  shards: z.number().int().min(1).max(MOST_SHARDS),
  /** Whether its shares are to be joined. */
  isShared: z.boolean(),
  /** Milliseconds since 1970. */
  created: z.number(),
})
export type Job = z.infer<typeof jobSchema>

export interface AskedJob {
  readonly job: Job
  readonly files: readonly { readonly name: string; readonly bytes: Uint8Array }[]
}

/** What is wrong with a request, and in which field. */
export class BadRequest extends Error {
  constructor(
    readonly field: string,
    reason: string,
  ) {
    super(`${field}: ${reason}`)
  }
}

/**
 * A job from what was sent: its name is made of all that its results depend on, so that the same request is the same job.
 * @param shards into how many shares it is dealt out where it does not say.
 * @throws {BadRequest} naming the field.
 */
export function jobFrom(body: unknown, shards: number, created: number): AskedJob {
  // 1. The head.
  if (body === null || typeof body !== 'object' || Array.isArray(body))
    throw new BadRequest('body', 'is no object')
  const head = checked(headSchema, body, '')
  const { command } = head
  const { options, unless, out: usual } = COMMANDS[command]

  // 2. Its files.
  const names = new Set<string>()
  for (const { name } of head.files) {
    const own = name.toLowerCase()
    if (names.has(own)) throw new BadRequest('files', `${name} is given twice`)
    names.add(own)
  }
  const files = head.files.map(({ name, text, base64 }) => ({
    name,
    bytes: text !== undefined ? Buffer.from(text, 'utf8') : Buffer.from(base64 ?? '', 'base64'),
  }))
  const inputs =
    head.inputs ?? head.files.map(({ name }) => name).filter((name) => !COMPANIONS.includes(extension(name)))
  const strange = inputs.find((name) => !head.files.some((file) => file.name === name))
  if (strange !== undefined) throw new BadRequest('inputs', `${strange} is none of the files`)
  if (inputs.length === 0) throw new BadRequest('files', 'hold no model and no project')

  // 3. What the command is called with.
  const rest = Object.entries(body as Record<string, unknown>).filter(
    ([name]) => !Object.hasOwn(headSchema.shape, name),
  )
  const args = rest.flatMap(([name, value]) => {
    if (!Object.hasOwn(options, name) || (OWN_OPTIONS as readonly string[]).includes(name))
      throw new BadRequest(name, `is nothing that ${command} takes here`)
    const option = (options as Record<string, { type: 'string' | 'boolean'; multiple?: boolean }>)[name]
    return optionArgs(name, option, checked(valueSchema, value, name))
  })
  if (command === 'hang') {
    const recipe = (body as Record<string, unknown>).recipe
    if (
      typeof recipe === 'string' &&
      extension(recipe) === 'zip' &&
      !head.files.some(({ name }) => name === recipe)
    )
      throw new BadRequest('recipe', `${recipe} is none of the files`)
  }

  // 4. Where its result goes, and what it is called.
  const film = command === 'turn' && head.out !== undefined && filmEnding(head.out) !== null
  if (head.out !== undefined && usual === null && !film)
    throw new BadRequest('out', command === 'turn' ? 'is no film' : `${command} writes several files`)
  const out = head.out ?? usual
  const isWhole = args.some((arg) => unless.some((name) => arg.split('=')[0] === `--${name}`))
  const isShared = COMMANDS[command].isShared && !isWhole
  const models = inputs.filter(
    (name) => !(command === 'hang' && extension(name) === 'zip' && args.includes(`--recipe=${name}`)),
  )
  const job = { command, args: [...args.sort(), '--', ...models], out, isShared }
  const hashes = files.map(({ name, bytes }) => [name, createHash('sha256').update(bytes).digest('hex')])
  const id = createHash('sha256')
    .update(canonicalJson([job, hashes.sort(([a], [b]) => (a < b ? -1 : 1))]))
    .digest('hex')
    .slice(0, 32)
  return { job: { ...job, id, shards: isShared ? (head.shards ?? shards) : 1, created }, files }
}

type Value = z.infer<typeof valueSchema>

function optionArgs(
  name: string,
  { type, multiple = false }: { readonly type: 'string' | 'boolean'; readonly multiple?: boolean },
  value: Value,
): string[] {
  if (type === 'boolean') {
    if (typeof value !== 'boolean') throw new BadRequest(name, 'is true or false')
    return value ? [`--${name}`] : []
  }
  if (typeof value === 'boolean') throw new BadRequest(name, 'takes a value')
  if (multiple) return (Array.isArray(value) ? value : [value]).map((own) => `--${name}=${wordOf(name, own)}`)
  return [`--${name}=${wordOf(name, value)}`]
}

const wordOf = (name: string, value: Exclude<Value, boolean>): string =>
  Array.isArray(value)
    ? value.join(name === 'size' ? 'x' : ',')
    : typeof value === 'object'
      ? `${value.width}x${value.height}`
      : String(value)

function checked<T>(schema: z.ZodType<T>, value: unknown, field: string): T {
  const parsed = schema.safeParse(value)
  if (parsed.success) return parsed.data
  const [issue] = parsed.error.issues
  const path = [field, ...issue.path.map(String)].filter(Boolean).join('.')
  throw new BadRequest(path || 'body', issue.message)
}
