import { z } from 'zod'

/**
 * Things of many kinds in a document: contents of layers, terms of masks, effects. Each kind is a file that says its version,
 * its fields and how one of the version before is brought up to date, so that a document outlives the kinds it was made with.
 */
export interface DocumentKind<K extends string, S extends z.ZodRawShape> {
  readonly kind: K
  /** Counts up when what is stored changes its meaning. */
  readonly version: number
  readonly label: string
  /** One sentence: what it is for. */
  readonly summary: string
  /** What is stored of it besides kind and version. */
  readonly shape: S
  /** Makes of what the version before stored what this one stores; asked for version after version. */
  readonly upgrade?: (old: Readonly<Record<string, unknown>>) => Record<string, unknown>
}

/** What a document holds of something that cannot be read: as it was, so that nothing is lost, and why not. */
export const unreadableSchema = z.object({
  kind: z.literal('unreadable'),
  version: z.literal(1),
  was: z.record(z.string(), z.unknown()),
  why: z.string(),
})
export type Unreadable = z.infer<typeof unreadableSchema>

type StoredOf<D> =
  D extends DocumentKind<infer K, infer S>
    ? { kind: K; version: number } & (keyof S extends never ? unknown : z.infer<z.ZodObject<S>>)
    : never

const looseSchema = z.looseObject({ kind: z.string(), version: z.number().int().min(1).optional() })

/** Kinds of one sort, as a schema that always gives something: what cannot be read becomes {@link Unreadable}. */
export class KindRegistry<const D extends readonly DocumentKind<string, z.ZodRawShape>[]> {
  private readonly known: ReadonlyMap<string, { readonly kind: D[number]; readonly schema: z.ZodObject }>

  /**
   * Reads what a document stores. Never refuses: see {@link Unreadable}.
   */
  readonly schema: z.ZodType<StoredOf<D[number]> | Unreadable>

  /** @param sort what these are, as it stands in messages: "content". */
  constructor(
    private readonly sort: string,
    readonly kinds: D,
  ) {
    this.known = new Map(
      kinds.map((kind) => {
        if (kind.version > 1 && !kind.upgrade)
          throw new Error(`${sort} ${kind.kind} is of version ${kind.version} and upgrades from none`)
        return [kind.kind, { kind, schema: z.object(kind.shape) }] as const
      }),
    )
    if (this.known.size !== kinds.length) throw new Error(`two kinds of ${sort} have one name`)
    this.schema = z.unknown().transform((stored) => this.read(stored))
  }

  /** The descriptor of a kind; undefined where there is none of that name. */
  kind(name: string): D[number] | undefined {
    return this.known.get(name)?.kind
  }

  read(stored: unknown): StoredOf<D[number]> | Unreadable {
    const before = unreadableSchema.safeParse(stored)
    // Perhaps it can be read by now.
    const raw = before.success ? before.data.was : stored
    const loose = looseSchema.safeParse(raw)
    if (!loose.success) return this.unreadable(raw, `it is no ${this.sort}`)
    const { kind: name, version = 1, ...fields } = loose.data
    const found = this.known.get(name)
    if (!found) return this.unreadable(raw, `this version does not know the ${this.sort} "${name}"`)
    const { kind, schema } = found
    if (version > kind.version)
      return this.unreadable(raw, `${kind.label} was stored by a newer version of the application`)
    let now: Record<string, unknown> = fields
    try {
      for (let v = version; v < kind.version; v++) now = kind.upgrade?.(now) ?? now
    } catch {
      return this.unreadable(raw, `${kind.label} of version ${version} cannot be brought up to date`)
    }
    const parsed = schema.safeParse(now)
    if (parsed.success) return { kind: name, version: kind.version, ...parsed.data } as StoredOf<D[number]>
    const issue = parsed.error.issues[0]
    return this.unreadable(raw, `${[kind.label, ...issue.path].join('.')}: ${issue.message}`)
  }

  private unreadable(raw: unknown, why: string): Unreadable {
    const was = z.record(z.string(), z.unknown()).safeParse(raw)
    return { kind: 'unreadable', version: 1, was: was.success ? was.data : { value: raw }, why }
  }
}
