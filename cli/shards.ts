import { existsSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { z, ZodError, type ZodType } from 'zod'
import { UnreadableFileError } from '@/core/errors'
import { canonicalJson, hashBytes, hashText } from '@/core/math/stable-hash'
import { UsageError } from './usage-error'

/** The most shards that a piece of work can have. */
export const MOST_SHARDS = 100_000

/** A file that a manifest names: below its folder, wherever the manifest comes from. */
export const innerFile = z
  .string()
  .refine(
    (name) =>
      !/^[\\/]|^[a-z]:|\\/i.test(name) && name.split('/').every((step) => step !== '' && !/^\.+$/.test(step)),
    'leads out of its folder',
  )

/** A share of a piece of work: what is counted is dealt out one by one. */
export interface Shard {
  /** From 0. */
  readonly index: number
  readonly count: number
}

export const isOfShard = ({ index, count }: Shard, number: number): boolean => number % count === index

/** `2/4`: the second of four. @throws {UsageError} */
export function parseShard(text: string): Shard {
  const match = /^(\d+)\/(\d+)$/.exec(text)
  const [number, count] = [Number(match?.[1]), Number(match?.[2])]
  if (!match || number < 1 || count < 1 || number > count || count > MOST_SHARDS)
    throw new UsageError(`--shard takes I/N, the I-th of N (got "${text}")`)
  return { index: number - 1, count }
}

/** A manifest of a folder; null where there is none. @throws {UnreadableFileError} naming the file and the field. */
export async function readJson<T>(file: string, schema: ZodType<T>): Promise<T | null> {
  if (!existsSync(file)) return null
  let loose: unknown
  try {
    loose = JSON.parse(await readFile(file, 'utf8'))
  } catch (cause) {
    throw new UnreadableFileError(file, 'cannot be parsed', { cause })
  }
  try {
    return schema.parse(loose)
  } catch (error) {
    if (!(error instanceof ZodError)) throw error
    const [issue] = error.issues
    throw new UnreadableFileError(file, `${issue.path.join('.')}: ${issue.message}`)
  }
}

/** Hash of anything that is made of plain values and typed arrays: equal keys, equal work. */
export const workKey = (value: unknown): string => hashText(canonicalJson(withHashes(value)))

function withHashes(value: unknown): unknown {
  if (ArrayBuffer.isView(value)) return hashBytes(value)
  if (Array.isArray(value)) return value.map(withHashes)
  if (value === null || typeof value !== 'object') return value
  return Object.fromEntries(Object.entries(value).map(([name, own]) => [name, withHashes(own)]))
}

/** Folders of shards whose manifests belong together. @throws {UnreadableFileError} naming the folder that does not. */
export function checkTogether(shards: readonly { readonly folder: string; readonly key: string }[]): void {
  const [first, ...others] = shards
  for (const { folder, key } of others)
    if (key !== first.key) throw new UnreadableFileError(folder, `is of something else than ${first.folder}`)
}
