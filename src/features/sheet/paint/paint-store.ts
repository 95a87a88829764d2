import { create } from 'zustand'
import { BRUSH_DEFAULTS, type BrushParams, type BrushUse } from '@/core/paint/brush'
import type { Lead } from '@/core/paint/led-way'
import { findTip, TIPS } from '@/core/paint/tips/registry'

/** What the brush does, by its name on the screen. */
export const PAINT_TOOLS = {
  paint: { label: 'Paint', does: 'lays colour', on: 'layer' },
  reveal: { label: 'Reveal', does: 'takes the layer away, what lies beneath shows', on: 'mask' },
  restore: { label: 'Restore', does: 'brings the layer back where it was taken away', on: 'mask' },
  erase: { label: 'Erase', does: 'takes paint away for good', on: 'layer' },
  clone: { label: 'Clone', does: 'paints what lies elsewhere', on: 'layer' },
  smudge: { label: 'Smudge', does: 'drags the paint along', on: 'layer' },
  soften: { label: 'Soften', does: 'blurs the paint', on: 'layer' },
  sharpen: { label: 'Sharpen', does: 'draws the paint’s edges apart', on: 'layer' },
  lighten: { label: 'Lighten', does: 'lightens the paint', on: 'layer' },
  darken: { label: 'Darken', does: 'darkens the paint', on: 'layer' },
  tint: { label: 'Tint', does: 'gives the paint the colour at its own tone', on: 'layer' },
  crack: { label: 'Crack', does: 'grows cracks, creases or folds from the line you draw', on: 'lines' },
} as const
export type PaintTool = keyof typeof PAINT_TOOLS

/** What a stroke stays in. */
export const STAYS = {
  nothing: 'Anywhere',
  parts: 'The part it starts on',
  materials: 'The material it starts on',
  groups: 'The group it starts on',
  chosen: 'Chosen parts',
  mask: 'The mask of the chosen layer',
  behind: 'Behind the part it starts on',
  depth: 'As far away as where it starts',
  facing: 'Turned as where it starts',
  occlusion: 'As open as where it starts',
  brightness: 'As bright as where it starts',
} as const
export type Stays = keyof typeof STAYS
/** Those that stay in a range about what there is where a stroke starts. */
export const BY_RANGE: ReadonlySet<Stays> = new Set(['behind', 'depth', 'facing', 'occlusion', 'brightness'])

interface PaintState {
  /** Null while nothing is painted. */
  readonly tool: PaintTool | null
  readonly tip: string
  readonly seed: number
  /** Brushes of tips that were changed. */
  readonly brushes: Readonly<Record<string, BrushParams>>
  /** Two colours, and where between them the brush is, 0…1. */
  readonly colours: readonly [string, string]
  readonly mixed: number
  /** Colours that were painted with, the last first. */
  readonly recent: readonly string[]
  readonly stays: Stays
  /** How far a range reaches about its value that strokes stay in. */
  readonly spread: number
  /** Keys of parts that strokes stay in. */
  readonly chosen: readonly string[]
  /** Tones that lighten, darken and tint change. */
  readonly range: readonly [number, number, number, number]
  /** The effect of the chosen layer whose mask is painted; null, or one of another layer: the layer's own. */
  readonly onEffect: string | null
  /** Where cloning paints from, in sheet pixels; null before it was set. */
  readonly cloneFrom: readonly [number, number] | null
  /** From where it paints to where, once a stroke began; null: the next one begins at its place. */
  readonly cloneBy: readonly [number, number] | null
  /** Whether strokes after the first keep that distance. */
  readonly cloneKeeps: boolean
  /** The layer that is cloned from; null: what is seen. */
  readonly cloneOf: string | null
  /** How far the canvas is turned while one paints, clockwise. Degrees, −180…180. */
  readonly turnDeg: number
  /** How strokes are led. */
  readonly lead: Lead
  readonly mirrorX: boolean
  readonly mirrorY: boolean
  /** Pressure of a pen that tells none: by its speed, or even. */
  readonly bySpeed: boolean
  /** Why the last stroke was not painted, in words. */
  readonly problem: string | null
}

export const usePaint = create<PaintState>(() => ({
  tool: null,
  tip: TIPS[0].kind,
  seed: 1,
  brushes: {},
  colours: ['#d9743b', '#3e5c66'],
  mixed: 0,
  recent: [],
  stays: 'nothing',
  spread: 0.08,
  chosen: [],
  range: [0, 0, 1, 1],
  cloneFrom: null,
  cloneBy: null,
  cloneKeeps: true,
  cloneOf: null,
  onEffect: null,
  turnDeg: 0,
  lead: 'free',
  mirrorX: false,
  mirrorY: false,
  bySpeed: true,
  problem: null,
}))

/** Where the tip is led to, in sheet pixels; null while no stroke is painted. It moves with the pen: nothing else is told. */
export const useTip = create<{ readonly at: { readonly x: number; readonly y: number } | null }>(() => ({
  at: null,
}))

export const setPaint = (patch: Partial<PaintState>): void => usePaint.setState(patch)

/** How a brush of a tip is led: as it was left, or as its tip begins. */
export const brushOf = ({ brushes }: Pick<PaintState, 'brushes'>, tip: string): BrushParams =>
  brushes[tip] ?? { ...BRUSH_DEFAULTS, ...findTip(tip)?.brush }

/** Turns the canvas. Degrees. */
export const turnCanvasBy = (degrees: number): void =>
  usePaint.setState(({ turnDeg }) => ({ turnDeg: ((((turnDeg + degrees + 180) % 360) + 360) % 360) - 180 }))

/** The brush at hand. */
export const brushInHand = (state: PaintState = usePaint.getState()): BrushUse => ({
  tip: state.tip,
  seed: state.seed,
  params: brushOf(state, state.tip),
})

export const changeBrush = (patch: Partial<BrushParams>): void =>
  usePaint.setState((state) => ({
    brushes: { ...state.brushes, [state.tip]: { ...brushOf(state, state.tip), ...patch } },
  }))

/** Larger, or smaller, by a tenth at least a pixel. */
export function sizeBrushBy(direction: 1 | -1): void {
  const { size } = brushInHand().params
  changeBrush({ size: Math.min(2000, Math.max(1, Math.round(size + direction * Math.max(1, size * 0.12)))) })
}
