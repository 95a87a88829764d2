import { z } from 'zod'
import type { DocumentKind } from '../../kinds'
import { paramControls, type ParamSchema } from '../../params'
import type { Surface } from '../../passes/pass-kind'
import type { MapRequest } from '../../passes/shot-maps'
import type { PaintTarget } from '../contents/content-kind'

export const TERM_JOINS = ['add', 'subtract', 'intersect'] as const
export type TermJoin = (typeof TERM_JOINS)[number]

/** What every term of a mask has. */
const common = {
  /** How it meets the terms above it. */
  join: z.enum(TERM_JOINS),
  enabled: z.boolean().default(true),
  /** All but what it names. */
  invert: z.boolean().default(false),
  /** Gaussian sigma of its edge, in sheet pixels. */
  featherPx: z.number().min(0).max(500).default(0),
  /** How far it reaches beyond what it names, or within it where negative, in sheet pixels. */
  growPx: z.number().min(-60).max(60).default(0),
  /** How much of it counts. */
  strength: z.number().min(0).max(1).default(1),
}

/** What a surface is named by, for terms that choose surfaces. */
type Naming = (surface: Pick<Surface, 'part' | 'material' | 'groups' | 'role'>) => readonly string[]

/**
 * One line of a mask. Adding a term is one file with one of these and one line in the registry. It chooses surfaces by what they
 * are named, exact within every pixel, or it works out a plane.
 */
export interface TermKind<K extends string, S extends z.ZodRawShape> extends DocumentKind<K, S> {
  readonly names?: Naming
  /** Its own fields as parameters, where controls can be drawn from them. */
  readonly schema?: ParamSchema
  /** Maps that its plane is worked out from. */
  readonly maps?: (term: z.infer<z.ZodObject<S>>) => readonly MapRequest[]
  /** Ids of pictures and passes that its plane is made from, besides its maps. */
  readonly uses?: (term: z.infer<z.ZodObject<S>>) => readonly string[]
  /**
   * A window of its plane. Where it is cut into windows must not matter.
   * @param maps what was asked for, as large as the window; numbers that are none where there is nothing to make them from.
   * @returns width·height of the window, 0…1; null where it has nothing to say.
   */
  readonly plane?: (
    term: z.infer<z.ZodObject<S>>,
    target: PaintTarget,
    maps: readonly Float32Array[],
  ) => Float32Array | null
}

export const defineTerm = <const K extends string, S extends z.ZodRawShape>(
  term: TermKind<K, S>,
): TermKind<K, S & typeof common> => {
  if (!term.names === !term.plane) throw new Error(`term ${term.kind} chooses surfaces, or has a plane`)
  return { ...term, shape: { ...common, ...term.shape } } as TermKind<K, S & typeof common>
}

/** A term of which each pixel stands for itself: its fields are parameters, from which its controls are drawn. */
export const definePlaneTerm = <const K extends string, P extends ParamSchema>(term: {
  readonly kind: K
  readonly version: number
  readonly label: string
  readonly summary: string
  readonly schema: P
  readonly maps?: (params: z.infer<P>) => readonly MapRequest[]
  /**
   * Gives how much of a pixel belongs to it, 0…1.
   * @param params of the term; @param target of the window.
   * @returns told a pixel's middle in sheet pixels and what the maps say there; null: nothing to say.
   */
  readonly shows: (
    params: z.infer<P>,
    target: PaintTarget,
  ) => ((x: number, y: number, maps: Float64Array, scale: number) => number) | null
}) => {
  // Refuses what has no control.
  paramControls(term.schema)
  const { kind, version, label, summary, schema } = term
  return defineTerm({
    kind,
    version,
    label,
    summary,
    schema,
    shape: schema.shape as P['shape'],
    maps: (own) => term.maps?.(own as z.infer<P>) ?? [],
    plane(own, target, maps) {
      const shows = term.shows(own as z.infer<P>, target)
      if (!shows) return null
      const { window, view, sheet } = target
      const scale = view.width / sheet.width
      const values = new Float64Array(maps.length)
      const out = new Float32Array(window.width * window.height)
      for (let y = 0, i = 0; y < window.height; y++)
        for (let x = 0; x < window.width; x++, i++) {
          for (let m = 0; m < maps.length; m++) values[m] = maps[m][i]
          // Without its map it has nothing to say.
          if (maps.length > 0 && Number.isNaN(values[0])) return null
          out[i] = shows((window.x + x + 0.5) / scale, (window.y + y + 0.5) / scale, values, scale)
        }
      return out
    },
  })
}

/** How far a value lies within a range with soft ends; straight between its edges. */
export function inRange([none0, all0, all1, none1]: readonly number[], value: number): number {
  const up = value >= all0 ? 1 : value <= none0 ? 0 : (value - none0) / (all0 - none0)
  const down = value <= all1 ? 1 : value >= none1 ? 0 : (none1 - value) / (none1 - all1)
  return up * down
}
