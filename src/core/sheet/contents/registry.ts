import type { z } from 'zod'
import { KindRegistry } from '../../kinds'
import type { ParamSchema } from '../../params'
import type { PassKindName } from '../../passes/registry'
import type { ContentKind, PaintTarget } from './content-kind'
import { castShadowContent } from './cast-shadow'
import { cracksContent } from './cracks'
import { fallenShadowContent } from './fallen-shadow'
import { fillContent } from './fill'
import { flareContent } from './flare'
import { fittedContent } from './fitted'
import { groupContent } from './group'
import { mockupContent } from './mockup'
import { paintedContent } from './painted'
import { passContent } from './pass'
import { pictureContent } from './picture'
import { pressingContent } from './pressing'
import { sheetContent } from './sheet'
import { specksContent } from './specks'
import { textureContent } from './texture'
import { typeContent } from './type'
import { washContent } from './wash'

/** Every content, in the order it is offered. Adding one is its file and its line here. */
export const contents = new KindRegistry('content', [
  passContent,
  fillContent,
  pictureContent,
  typeContent,
  sheetContent,
  mockupContent,
  fittedContent,
  textureContent,
  flareContent,
  specksContent,
  fallenShadowContent,
  castShadowContent,
  cracksContent,
  paintedContent,
  groupContent,
  washContent,
  pressingContent,
] as const)

/** What a layer holds; one that cannot be read among them. */
export type Content = z.infer<typeof contents.schema>
export type ContentKindName = Content['kind']
export type ContentOf<K extends ContentKindName> = Extract<Content, { kind: K }>

/** A content's descriptor as it is asked for whatever its kind: what is asked about is what it was registered with. */
type AnyContentKind = ContentKind<string, z.ZodRawShape>

const descriptorOf = ({ kind }: Content): AnyContentKind | undefined =>
  contents.kind(kind) as AnyContentKind | undefined

/** Parameters of a content whose fields are such; null for others. */
export const contentSchema = (content: Content): ParamSchema | null => descriptorOf(content)?.schema ?? null

/** Ids of the passes and pictures that a content shows. */
export const contentUses = (content: Content): readonly string[] =>
  descriptorOf(content)?.uses?.(content) ?? []

/** Kinds of passes of the sheet's own shot that a content is made from. */
export const contentShotPasses = (content: Content): readonly PassKindName[] =>
  descriptorOf(content)?.shotPasses?.(content) ?? []

/** Whether a content has pixels of its own. */
export const isPainted = (content: Content): boolean => descriptorOf(content)?.paint !== undefined

/** A window of what a content shows; see {@link ContentKind.paint}. */
export const paintContent = (content: Content, target: PaintTarget): Float32Array | null =>
  descriptorOf(content)?.paint?.(content, target) ?? null
