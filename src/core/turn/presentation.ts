import { parseHex } from '../math/colour'
import { contentOf, evenFill, gradientFill, groupOf, newLayer } from '../sheet/new-layer'
import type { Sheet, SheetNode } from '../sheet/sheet-schema'
import { relativeLuminance } from '../type/text-contrast'
import { frameCount, type Motion, type Reveal } from './turn-schema'

/** What a turntable is presented with, made in one press: layers that the still hides, and what lets them come in. */
export const PRESENTATIONS = ['card', 'caption', 'plate', 'ground'] as const
export type PresentationName = (typeof PRESENTATIONS)[number]
export const presentationLabels: Readonly<Record<PresentationName, string>> = {
  card: 'Title card at the beginning',
  caption: 'Caption at the playhead',
  plate: 'Statistics of the model',
  ground: 'Graded ground',
}

const [TITLE_FONT, PLAIN_FONT] = ['playfair-display', 'barlow-condensed']
/** How long a card and a caption stand, and how long they take to come and go. Seconds. */
const [CARD, CAPTION, CHANGE] = [2, 2.5, 0.35]
const [LIGHT, DARK] = ['#f4ede1', '#241f1c']

export interface Presented {
  /** The first of them lies in no group. */
  readonly layers: readonly SheetNode[]
  /** Before all other layers, or behind them: above the hindmost, where that is paper. */
  readonly lies: 'front' | 'back'
  readonly reveal: Reveal
}

/**
 * @param frame where the playhead is.
 * @param title of a card; its own words can be typed over.
 * @param newId gives each a name of its own.
 */
export function presented(
  name: PresentationName,
  sheet: Sheet,
  motion: Motion,
  frame: number,
  title: string,
  newId: () => string,
): Presented {
  const ground = groundColour(sheet)
  const ink = relativeLuminance(rgb(ground)) > 0.4 ? DARK : LIGHT
  switch (name) {
    case 'card': {
      const group = newId()
      const [back, head, line] = [
        hidden(newId(), 'Card', evenFill(ground), true),
        block(sheet, newId(), 'Title', title, [0.1, 0.36, 0.8, 0.16], 0.1, ink, TITLE_FONT, 'middle'),
        block(
          sheet,
          newId(),
          'Line',
          '{parts} parts, {polygons} polygons',
          [0.1, 0.53, 0.8, 0.06],
          0.034,
          ink,
          PLAIN_FONT,
          'middle',
        ),
      ]
      const all = newLayer({
        id: group,
        name: 'Title card',
        content: groupOf([back.id, head.id, line.id]),
        visible: false,
      })
      const reveal = shownFor(newId(), group, motion, 0, CARD)
      return {
        layers: [all, back, head, line],
        lies: 'front',
        // It is there at once.
        reveal: { ...reveal, from: 0, whole: 0 },
      }
    }
    case 'caption': {
      const own = block(
        sheet,
        newId(),
        'Caption',
        'What is seen here',
        [0.08, 0.86, 0.84, 0.08],
        0.042,
        ink,
        PLAIN_FONT,
      )
      const reveal = shownFor(newId(), own.id, motion, frame, CAPTION)
      return { layers: [{ ...own, visible: false }], lies: 'front', reveal }
    }
    case 'plate': {
      const text =
        '{parts} parts\n{polygons} polygons\n{triangles} of three sides, {quads} of four, {larger} of more\n{materials} materials, {textures} textures'
      const own = block(sheet, newId(), 'Statistics', text, [0.08, 0.74, 0.84, 0.2], 0.032, ink, PLAIN_FONT)
      const reveal = stays(newId(), own.id, motion, frame)
      return { layers: [{ ...own, visible: false }], lies: 'front', reveal }
    }
    case 'ground': {
      const colours = [mixed(ground, '#ffffff', 0.35), ground, mixed(ground, '#000000', 0.22)]
      const content = gradientFill('radial', colours, [0.5, 0.62], [0.5, -0.35])
      const own = hidden(newId(), 'Graded ground', content)
      return {
        layers: [own],
        lies: 'back',
        reveal: { ...stays(newId(), own.id, motion, 0), from: 0, whole: 0 },
      }
    }
  }
}

const hidden = (id: string, name: string, content: SheetNode['content'], visible = false): SheetNode =>
  newLayer({ id, name, content, visible })

/** @param box in shares of the sheet. @param size a share of its height. */
function block(
  sheet: Sheet,
  id: string,
  name: string,
  text: string,
  box: readonly [number, number, number, number],
  size: number,
  colour: string,
  fontId: string,
  align: 'start' | 'middle' = 'start',
): SheetNode {
  const content = contentOf('type', {
    text,
    fontId,
    box: [...box],
    size: Math.max(6, Math.round(size * sheet.height)),
    leading: 1.25,
    align,
    colour,
  })
  return newLayer({ id, name, content })
}

/** A fade that comes at a frame and goes after some seconds. */
function shownFor(id: string, layerId: string, motion: Motion, frame: number, seconds: number): Reveal {
  const count = frameCount(motion)
  const change = Math.max(1, Math.round(CHANGE * motion.rate))
  const from = Math.max(0, Math.min(Math.round(frame), count - 2))
  const gone = Math.min(count, from + Math.max(2, Math.round(seconds * motion.rate)))
  const goes = Math.max(from, gone - change)
  return { ...fade(id, layerId), from, whole: Math.min(goes, from + change), goes, gone }
}

/** A fade that comes at a frame and stays until it closes. */
function stays(id: string, layerId: string, motion: Motion, frame: number): Reveal {
  const change = Math.max(1, Math.round(CHANGE * motion.rate))
  const from = Math.max(0, Math.round(frame))
  return { ...fade(id, layerId), from, whole: Math.min(frameCount(motion), from + change) }
}

const fade = (id: string, layerId: string): Reveal => ({
  id,
  layerId,
  kind: 'fade',
  from: 0,
  whole: 0,
  goes: null,
  gone: null,
  ease: 'slow both',
  angleDeg: 0,
  softness: 0.04,
  centre: [0.5, 0.5],
  parts: [],
})

/** The colour that lies at the very back: of the sheet, or of an even fill that is its hindmost layer. */
export function groundColour({
  background,
  roots,
  nodes,
}: Pick<Sheet, 'background' | 'roots' | 'nodes'>): string {
  const back = roots.length > 0 ? (nodes[roots[0]] as SheetNode | undefined) : undefined
  if (back?.visible && back.content.kind === 'fill' && back.content.stops.length > 0)
    return back.content.stops[0].colour.slice(0, 7)
  return background?.slice(0, 7) ?? LIGHT
}

const rgb = (hex: string): readonly [number, number, number] => {
  const [r, g, b] = parseHex(hex)
  return [r, g, b]
}
function mixed(hex: string, other: string, share: number): string {
  const [a, b] = [rgb(hex), rgb(other)]
  const byte = (v: number) =>
    Math.round(255 * v)
      .toString(16)
      .padStart(2, '0')
  return `#${a.map((v, i) => byte(v + (b[i] - v) * share)).join('')}`
}
