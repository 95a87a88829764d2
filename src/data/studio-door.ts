import { z } from 'zod'

/** The way from this application's server to the machine that renders for it, see docs/FARM.md. The token stays on the server. */
export interface StudioPlace {
  readonly address: string
  readonly token: string
}

/** What the environment says of it; null where there is none. @throws {Error} naming the variable that is wrong. */
export function studioPlace(environment: Readonly<Record<string, string | undefined>>): StudioPlace | null {
  const { RELIEF_STUDIO: address, RELIEF_TOKEN: token = '' } = environment
  if (address === undefined || address === '') return null
  if (!/^https?:\/\//.test(address) || !URL.canParse(address))
    throw new Error('RELIEF_STUDIO is no address that begins with http')
  return { address: address.replace(/\/+$/, ''), token }
}

/** The most bytes of a project that go there. */
export const MOST_SENT = 180 * 2 ** 20

const ID = /^[0-9a-f]{32}$/
/** A file's, as file systems take them: one step that leads nowhere else. */
const NAME = /^(?!\.)[^\\/:*?"<>|\p{Cc}]{1,200}$/u

/** Whether an address is one that the application asks for. */
export function isStudioPath(method: string, steps: readonly string[]): boolean {
  const [first, id, files, name] = steps
  if (method === 'GET' && steps.length === 1) return first === 'health'
  if (first !== 'jobs') return false
  if (method === 'POST') return steps.length === 1
  if (!ID.test(id ?? '')) return false
  if (method === 'DELETE') return steps.length === 2
  return (
    method === 'GET' && (steps.length === 2 || (steps.length === 4 && files === 'files' && NAME.test(name)))
  )
}

/** Whether a request comes from a page of this application (Fetch Metadata, W3C). */
export const isOwnPage = (headers: Headers): boolean =>
  (headers.get('sec-fetch-site') ?? 'same-origin') === 'same-origin'

const value = z.union([z.string().max(2000), z.number(), z.boolean()])
const orderSchema = z.record(
  z.string().regex(/^[a-z]{1,20}$/),
  z.union([value, z.array(z.string().max(2000)).max(200)]),
)
/** What is to be made of an archive: the command, and its options by their names. */
export type StudioOrder = Readonly<z.input<typeof orderSchema>>

/** An order as it stands in an address; null where it is none, or brings files of its own. */
export function askedOrder(text: string | null): StudioOrder | null {
  try {
    const parsed = orderSchema.safeParse(JSON.parse(text ?? ''))
    return parsed.success && !('files' in parsed.data) ? parsed.data : null
  } catch {
    return null
  }
}
