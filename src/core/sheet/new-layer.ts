import { effectKind } from '../effects/registry'
import type { FillShape, SheetPlace } from './contents/fill'
import { contents, type Content, type ContentOf } from './contents/registry'
import type { Mask, SheetEffect, SheetNode } from './sheet-schema'
import { terms, type KnownTerm, type MaskTerm, type SurfaceTerm } from './terms/registry'
import type { TermJoin } from './terms/term-kind'

/** A layer with everything at its beginning but what is given: shown, normal, whole, unmasked. */
export const newLayer = (
  given: Partial<SheetNode> & Pick<SheetNode, 'id' | 'name' | 'content'>,
): SheetNode => ({
  locked: false,
  marker: 'none',
  note: '',
  visible: true,
  mode: 'normal',
  opacity: 1,
  confine: false,
  gate: null,
  mask: null,
  effects: [],
  ...given,
})

/** A pass under a look. */
export const passOf = (passId: string, look: ContentOf<'pass'>['look']): ContentOf<'pass'> => ({
  kind: 'pass',
  version: 1,
  passId,
  look,
})

/** One colour. */
export const evenFill = (colour: string): ContentOf<'fill'> => gradientFill('even', [colour])

/** Colours at even distances; without places, from the top down. */
export const gradientFill = (
  shape: FillShape,
  colours: readonly string[],
  from: SheetPlace = [0.5, 0],
  to: SheetPlace = [0.5, 1],
): ContentOf<'fill'> => ({
  kind: 'fill',
  version: 1,
  shape,
  stops: colours.map((colour, i) => ({ at: colours.length > 1 ? i / (colours.length - 1) : 0, colour })),
  from,
  to,
})

/** A picture over the whole sheet. */
export const wholePicture = (pictureId: string): ContentOf<'picture'> => ({
  kind: 'picture',
  version: 1,
  pictureId,
  centre: [0.5, 0.5],
  size: [1, 1],
  turnDeg: 0,
})

/** A content whose fields are parameters, at its defaults but for what is given. */
export const contentOf = (
  kind:
    | 'texture'
    | 'flare'
    | 'specks'
    | 'fallenShadow'
    | 'cracks'
    | 'type'
    | 'sheet'
    | 'mockup'
    | 'fitted'
    | 'castShadow',
  given: Readonly<Record<string, unknown>> = {},
): Content => contents.read({ kind, version: contents.kind(kind)?.version, ...given })

/** An empty group, or one of layers that are there. */
export const groupOf = (children: string[] = [], isolated = true): ContentOf<'group'> => ({
  kind: 'group',
  version: 1,
  children,
  isolated,
  folded: false,
})

/** A live pressing. */
export const pressingOf = (of: string | null): ContentOf<'pressing'> => ({ kind: 'pressing', version: 1, of })

export const wash = (): Content => ({ kind: 'wash', version: 1 })

/** A mask that says nothing yet. */
export const newMask = (): Mask => ({ terms: [], invert: false, featherPx: 0, effects: [] })

/** A term that chooses surfaces by what they are named. */
export const surfaceTerm = (
  kind: SurfaceTerm['kind'],
  keys: readonly string[],
  join: TermJoin = 'add',
): SurfaceTerm => newTerm(kind, { keys: [...keys], join }) as SurfaceTerm

/** A term with everything at its beginning but what is given. */
export const newTerm = (kind: KnownTerm['kind'], given: Readonly<Record<string, unknown>> = {}): MaskTerm =>
  terms.read({ kind, version: terms.kind(kind)?.version, join: 'add', ...given })

/** An effect at its defaults. @throws {InvalidValueError} for a kind that none has. */
export function newEffect(id: string, kind: string): SheetEffect {
  const { version, defaults } = effectKind(kind)
  return { id, kind, version, enabled: true, opacity: 1, mask: null, params: { ...defaults } }
}
