import type { z } from 'zod'
import type { DocumentKind } from '../../kinds'
import type { ParamSchema } from '../../params'
import type { PassKindName } from '../../passes/registry'
import type { Tile } from '../../passes/tile'
import type { PictureLies } from '../picture-lies'
import type { RenderSize, SheetResources } from '../sheet-resources'

/** What of a layer's content is to be painted. */
export interface PaintTarget {
  /** In pixels of the view, within the picture. */
  readonly window: Tile
  /** What the whole sheet measures in the view. */
  readonly view: RenderSize
  /** With the shot that its masks, and contents that look at it, are made from. */
  readonly sheet: RenderSize & PictureLies & { readonly shotId?: string }
  readonly resources: SheetResources
}

/** What a layer holds. Adding a content is one file with one of these and one line in the registry. */
export interface ContentKind<K extends string, S extends z.ZodRawShape> extends DocumentKind<K, S> {
  /** Its fields as parameters, where controls can be drawn from them. */
  readonly schema?: ParamSchema
  /** Ids of the passes and pictures that it shows. */
  readonly uses?: (content: z.infer<z.ZodObject<S>>) => readonly string[]
  /** Kinds of passes of the sheet's own shot that it is made from. */
  readonly shotPasses?: (content: z.infer<z.ZodObject<S>>) => readonly PassKindName[]
  /**
   * A window of what it shows. Where it is cut into windows must not matter.
   * @returns straight-alpha display RGBA, 4·width·height of the window; null where nothing is to be seen or its source is missing.
   */
  readonly paint?: (content: z.infer<z.ZodObject<S>>, target: PaintTarget) => Float32Array | null
}

export const defineContent = <const K extends string, S extends z.ZodRawShape>(
  content: ContentKind<K, S>,
): ContentKind<K, S> => content
