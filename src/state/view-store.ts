import { create } from 'zustand'
import type { MaskSeen } from '@/core/sheet/mask-seen'

export const PREVIEWS = ['model', 'clay', 'occlusion', 'contour', 'id'] as const
export type Preview = (typeof PREVIEWS)[number]

/** What a hand holds over the lines of a layer. Lengths are shares of the picture's height. */
export interface LineBrush {
  /** Null while nothing is held. */
  readonly tool: 'thicken' | 'thin' | 'erase' | 'draw' | null
  readonly radius: number
  /** 0…1. */
  readonly strength: number
  /** Of drawn lines, in thousandths. */
  readonly weight: number
}

/** How the proof is seen: as it is, or through something that shows what the eye forgets. */
export const SEEN_AS = ['plain', 'grey', 'clipped', 'afar', 'protan', 'deutan', 'tritan'] as const
export type SeenAs = (typeof SEEN_AS)[number]

/** How two pictures are compared: beside each other, one after the other, or by what differs. */
export const COMPARE_BY = ['seam', 'blink', 'difference'] as const
export type CompareBy = (typeof COMPARE_BY)[number]

/** What the panel beside the proof shows instead of the layer. */
export type SheetPanel = 'history' | 'scopes'

/** What is looked at: not part of the project, not undone. */
interface ViewState {
  /** The page of a poster that was at work last. */
  readonly pageId: string | null
  /** A page or mock-up that is to be opened when its project is. */
  readonly wantedPageId: string | null
  /** The ink whose plate alone is seen; null: all over each other. */
  readonly plateId: string | null
  /** Whether a page is seen on its paper's white, in its ink's black. */
  readonly isProofed: boolean
  /** The turntable at work; null: the first. */
  readonly turnId: string | null
  /** The frame of it that is seen. */
  readonly turnFrame: number
  /** The lane whose inspector is shown: of a layer by its id, or of the camera; null: none. */
  readonly laneId: string | null
  readonly layerId: string | null
  /** Layers chosen beside the one at work, as long as that one is: choosing another forgets them. */
  readonly alsoChosen: { readonly lead: string | null; readonly ids: readonly string[] }
  readonly passId: string | null
  /** Where passes are rendered, where the studio answers. */
  readonly renderAt: 'here' | 'studio'
  readonly partKeys: readonly string[]
  /** The model the inspector of Models shows; null lets the chosen parts say. */
  readonly modelId: string | null
  /** Keys of the parts shown alone in Models; null shows all. */
  readonly solo: readonly string[] | null
  readonly lightId: string | null
  /** What the view of Shot shows. */
  readonly preview: Preview
  /** How many layers from the back are shown; Infinity when nothing is peeled. */
  readonly peel: number
  /** Whether the stack is gone through from the back, with the notes of its layers. */
  readonly isMaking: boolean
  /** Seam of the comparison, 0…1 of the picture's width; null when not comparing. */
  readonly seam: number | null
  readonly compareBy: CompareBy
  /** Whether the table of many files is open, and what it begins with. */
  readonly batch: 'all' | 'changed' | null
  /** What is seen left and right of the seam; see compare-sides.ts. */
  readonly compareLeft: string
  readonly compareRight: string
  /** How the mask of the layer at work is looked at. */
  readonly maskSeen: MaskSeen | 'off'
  readonly panel: SheetPanel | null
  /** Whether the rack's cards are small: more of them are seen. */
  readonly hasSmallCards: boolean
  /** What is looked for in the rack: layers whose names hold it stand out. */
  readonly layerQuery: string
  /** Grey around pictures, 0…1. */
  readonly ground: number
  readonly lineBrush: LineBrush
  /** A pixel of the sheet whose colour is read, 0…1 across and down; null while none is, `isReading` while presses choose one. */
  readonly probe: readonly [number, number] | null
  readonly isReading: boolean
  readonly seenAs: SeenAs
  readonly isFlipped: boolean
  /** The recipe that the inspector shows; '' their list, null none. */
  readonly recipe: string | null
  /** Why something was not done to a layer, in words; null once it was said. */
  readonly refusal: string | null
  /** A locked shot was to be moved. */
  readonly lockRefused: boolean
  /** The page of the guide that is read, and its anchor: `passes/contour`; null where it is closed. */
  readonly guide: string | null
  readonly finderOpen: boolean
  readonly shortcutsOpen: boolean
}

export const useViewStore = create<ViewState>(() => ({
  pageId: null,
  wantedPageId: null,
  plateId: null,
  isProofed: false,
  turnId: null,
  turnFrame: 0,
  laneId: null,
  layerId: null,
  alsoChosen: { lead: null, ids: [] },
  passId: null,
  renderAt: 'here',
  partKeys: [],
  modelId: null,
  solo: null,
  lightId: null,
  preview: 'clay',
  peel: Infinity,
  isMaking: false,
  seam: null,
  compareBy: 'seam',
  batch: null,
  compareLeft: 'without',
  compareRight: 'now',
  maskSeen: 'off',
  panel: null,
  hasSmallCards: false,
  layerQuery: '',
  ground: 0.48,
  lineBrush: { tool: null, radius: 0.03, strength: 0.6, weight: 2 },
  probe: null,
  isReading: false,
  seenAs: 'plain',
  isFlipped: false,
  recipe: null,
  refusal: null,
  lockRefused: false,
  guide: null,
  finderOpen: false,
  shortcutsOpen: false,
}))
export const setBench = (patch: Partial<ViewState>): void => useViewStore.setState(patch)
