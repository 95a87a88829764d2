// One file: one way from text to placed glyphs: each stage takes what the one before it made.
import LineBreaker from 'linebreak'
import { breakLines, fillLines, type BrokenLine, type ParagraphItem } from './break-lines'
import { hyphenated, SOFT_HYPHEN } from './hyphenate'
import { overhang } from './optical-margins'
import { OUTLINE_NUMBERS, type Font, type FontFile, type RunDirection, type ShapedGlyph } from './shaper'
import { inSeenOrder, levelsOf, textRuns } from './text-runs'
import { styleFeatures, type TypeStyle, type TypeText } from './type-style'

/**
 * Sets a block of type: text shaped into glyphs, broken into lines, each glyph at its place. Lengths are sheet pixels, x to the
 * right, y down, from the upper left corner of the block's frame. Nothing is bent or turned yet: see type-outlines.ts.
 */

export interface PlacedGlyph {
  readonly font: Font
  readonly glyph: number
  /** Its origin on the baseline. */
  readonly x: number
  readonly y: number
  /** Pixels of an em, across and down. */
  readonly sizeX: number
  readonly sizeY: number
  /** Number of its line. */
  readonly line: number
  /** Of the text, what it stands for: UTF-16 units from … to before …. */
  readonly start: number
  readonly end: number
  /** How far it moves the pen. */
  readonly advance: number
}

export interface Caret {
  /** Before which UTF-16 unit of the text it stands. */
  readonly index: number
  /** Along the line. */
  readonly at: number
}

export interface TypeLine {
  readonly start: number
  readonly end: number
  /** Where it begins along the line, and how long it is. */
  readonly from: number
  readonly length: number
  /** Of its baseline, or of the middle of a column. */
  readonly across: number
  readonly ascent: number
  readonly descent: number
  /** In the order of the text. */
  readonly carets: readonly Caret[]
  /** By how much its size differs from that of the style. */
  readonly scale: number
}

export interface TypeLayout {
  readonly isDown: boolean
  readonly glyphs: readonly PlacedGlyph[]
  readonly lines: readonly TypeLine[]
  /** What the lines take up: from their first ascent to their last descent, as wide as the longest. */
  readonly width: number
  readonly height: number
  /** Pixels of an em, after what fits it into its frame. */
  readonly size: number
  /** Characters that no font has. */
  readonly missing: readonly string[]
}

/** What the caret can stand beside, and what a line can be broken at: glyphs that belong together. */
interface Cluster {
  readonly start: number
  readonly end: number
  readonly level: number
  readonly font: Font
  /** As seen, from left to right. */
  readonly glyphs: readonly ShapedGlyph[]
  /** In ems, with tracking and what was set by hand. */
  advance: number
  readonly isSpace: boolean
  /** What a line may do after it. */
  breakAfter: 'no' | 'may' | 'hyphen'
}

interface Paragraph {
  readonly start: number
  readonly clusters: readonly Cluster[]
  /** Of a hyphen, in ems; its glyphs where a line ends with one. */
  readonly hyphen: { readonly glyphs: readonly ShapedGlyph[]; readonly font: Font; readonly advance: number }
  readonly isLeft: boolean
}

/** A line before it is placed. */
interface LooseLine {
  readonly paragraph: Paragraph
  readonly clusters: readonly Cluster[]
  readonly start: number
  readonly end: number
  /** How much wider each of its spaces is, in ems. */
  readonly spaceBy: number
  readonly hasHyphen: boolean
  readonly isFirst: boolean
  readonly isLast: boolean
}

const EM = 1000
/** Of a space's width: what it may grow and shrink by where a line is justified (Knuth and Plass 1981, section 2). */
const [STRETCH, SHRINK] = [1 / 2, 1 / 3]
const HYPHEN_PENALTY = 50

/**
 * @param frame its width and height; lines are broken at its width where one is given, and begin another column below its height.
 * @param files of one family, in the order in which they are asked for a character.
 */
export function layType(
  text: TypeText,
  style: TypeStyle,
  frame: { readonly width: number | null; readonly height: number },
  files: readonly FontFile[],
): TypeLayout {
  const fonts = files.map((file) => file.at(text.axes))
  const isDown = style.direction === 'down'
  const paragraphs = shapeText(text, style, fonts, isDown)
  const missing = missingOf(text.text, fonts)
  const along = isDown ? frame.height : frame.width
  if (style.fit === 'none' || along === null) {
    const lines = toLines(paragraphs, style, along, frame)
    return { ...place(lines, style, style.size, along, frame, fonts, isDown), missing }
  }
  // What fits is not broken: each paragraph is a line.
  const lines = paragraphs.map((paragraph) => wholeLine(paragraph))
  const lengths = lines.map((line) => lengthOf(line, style))
  if (style.fit === 'lines') {
    // As wide as what is seen of it: the room beside its first and last letters does not count.
    const insets = lines.map((line) => (isDown ? { left: 0, right: 0 } : sideRooms(line, style)))
    const scales = lengths.map((length, i) => {
      const seen = length - insets[i].left - insets[i].right
      return seen > 0 ? along / (seen * style.size) : 1
    })
    return { ...place(lines, style, style.size, along, frame, fonts, isDown, scales, insets), missing }
  }
  const longest = Math.max(1e-6, ...lengths)
  const depth = isDown ? (frame.width ?? along) : frame.height
  const { capHeight, descender } = fonts[0].metrics
  const deep = capHeight - descender + (lines.length - 1) * style.leading
  const size = Math.min(along / longest, depth / Math.max(1e-6, deep))
  return { ...place(lines, style, size, along, frame, fonts, isDown), missing }
}

function missingOf(text: string, fonts: readonly Font[]): string[] {
  const found = new Set<string>()
  for (const character of text)
    if (!/[\s\p{C}]/u.test(character) && !fonts.some((font) => font.has(character.codePointAt(0) ?? 0)))
      found.add(character)
  return [...found]
}

// -------------------------------------------------------------------- shaping

function shapeText(
  { text, pairs }: TypeText,
  style: TypeStyle,
  fonts: readonly Font[],
  isDown: boolean,
): Paragraph[] {
  const by = new Map(pairs.map((own) => [own.pair, own.by / EM]))
  let start = 0
  return text.split('\n').map((own) => {
    const paragraph = shapeParagraph(own, start, style, fonts, isDown, by)
    start += own.length + 1
    return paragraph
  })
}

function shapeParagraph(
  typed: string,
  start: number,
  style: TypeStyle,
  fonts: readonly Font[],
  isDown: boolean,
  pairs: ReadonlyMap<string, number>,
): Paragraph {
  const features = styleFeatures(style)
  // The text keeps its length whatever is done to it: places in it are what the caret knows.
  const capital = style.capitals === 'all' ? sameLengthCapitals(typed) : typed
  const { text, toTyped } = hyphenated(capital, style.hyphens)
  const levels = levelsOf(text, style.direction === 'down' ? 'right' : style.direction)
  const clusters = textRuns(text, levels, fonts).flatMap((run) => {
    const direction: RunDirection = isDown ? 'down' : run.level % 2 === 1 ? 'left' : 'right'
    const glyphs = fonts[run.font].shape(text, run.start, run.end - run.start, direction, features)
    return clustersOf(glyphs, run, fonts[run.font], text, isDown)
  })
  // 1. Distances: tracking, words, pairs by hand.
  const tracking = style.tracking / EM
  clusters.forEach((cluster, i) => {
    if (text[cluster.start] === SOFT_HYPHEN) {
      cluster.advance = 0
      return
    }
    cluster.advance += tracking
    if (cluster.isSpace) cluster.advance *= style.wordSpace / 100
    const next = clusters.slice(i + 1).find((other) => text[other.start] !== SOFT_HYPHEN)
    const last = [...text.slice(cluster.start, cluster.end)].at(-1) ?? ''
    const first = next ? String.fromCodePoint(text.codePointAt(next.start) ?? 0) : ''
    cluster.advance += pairs.get(last + first) ?? 0
  })
  // 2. Where lines may end.
  const mayEnd = new Set<number>()
  const breaker = new LineBreaker(text)
  for (let found = breaker.nextBreak(); found; found = breaker.nextBreak()) mayEnd.add(found.position)
  for (const cluster of clusters) {
    if (text[cluster.start] === SOFT_HYPHEN) cluster.breakAfter = 'hyphen'
    else if (mayEnd.has(cluster.end) && cluster.end < text.length) cluster.breakAfter = 'may'
  }
  const glyphs = fonts[0].shape('-', 0, 1, 'right', features)
  const hyphen = { glyphs, font: fonts[0], advance: glyphs.reduce((sum, g) => sum + g.advanceX, 0) }
  const typedAt = (at: number) => start + toTyped(at)
  return {
    start,
    clusters: clusters.map((own) => ({ ...own, start: typedAt(own.start), end: typedAt(own.end) })),
    hyphen,
    isLeft: !isDown && (levels.length > 0 ? Math.min(...levels) % 2 === 1 : style.direction === 'left'),
  }
}

/** Capitals of a text as far as they are as long as what they stand for: ß stays. */
const sameLengthCapitals = (text: string): string =>
  [...text]
    .map((character) => {
      const upper = character.toUpperCase()
      return upper.length === character.length ? upper : character
    })
    .join('')

function clustersOf(
  glyphs: readonly ShapedGlyph[],
  run: { readonly start: number; readonly end: number; readonly level: number },
  font: Font,
  text: string,
  isDown: boolean,
): Cluster[] {
  // In the order of the text, whichever way the glyphs lie.
  const starts = [...new Set(glyphs.map(({ cluster }) => cluster))].sort((a, b) => a - b)
  return starts.map((start, i) => {
    const own = glyphs.filter(({ cluster }) => cluster === start)
    const end = starts[i + 1] ?? run.end
    return {
      start,
      end,
      level: run.level,
      font,
      glyphs: own,
      advance: own.reduce((sum, g) => sum + (isDown ? -g.advanceY : g.advanceX), 0),
      isSpace: /^[ \u2000-\u200a\u3000\t]+$/.test(text.slice(start, end)),
      breakAfter: 'no',
    }
  })
}

// -------------------------------------------------------------------- lines

const wholeLine = (paragraph: Paragraph): LooseLine => ({
  paragraph,
  clusters: withoutEndSpaces(paragraph.clusters),
  start: paragraph.start,
  end: paragraph.clusters.at(-1)?.end ?? paragraph.start,
  spaceBy: 0,
  hasHyphen: false,
  isFirst: true,
  isLast: true,
})

function withoutEndSpaces(clusters: readonly Cluster[]): readonly Cluster[] {
  let end = clusters.length
  while (end > 0 && clusters[end - 1].isSpace) end--
  return end === clusters.length ? clusters : clusters.slice(0, end)
}

/** How long a line is, in ems, as set: without what follows its last letter. */
function lengthOf({ clusters, spaceBy, hasHyphen, paragraph }: LooseLine, style: TypeStyle): number {
  const sum = clusters.reduce((all, own) => all + own.advance + (own.isSpace ? spaceBy : 0), 0)
  const end = clusters.length > 0 ? style.tracking / EM : 0
  return ((sum - (hasHyphen ? 0 : end) + (hasHyphen ? paragraph.hyphen.advance : 0)) * style.width) / 100
}

function toLines(
  paragraphs: readonly Paragraph[],
  style: TypeStyle,
  along: number | null,
  frame: { readonly width: number | null; readonly height: number },
): LooseLine[] {
  if (along === null) return paragraphs.map(wholeLine)
  const measure = columnWidth(style, along, frame) / style.size / (style.width / 100)
  return paragraphs.flatMap((paragraph) => {
    const { clusters, hyphen } = paragraph
    if (clusters.length === 0) return [wholeLine(paragraph)]
    const { items, clusterOf } = itemsOf(clusters, hyphen.advance)
    const indent = style.indent / EM / (style.width / 100)
    const edges = (line: number) => measure - (line === 0 ? Math.max(0, indent) : Math.max(0, -indent))
    const broken =
      style.align === 'justify'
        ? breakLines(items, { widthOf: edges, isLastLoose: true })
        : fillLines(items, edges)
    return broken.map((line, i) =>
      looseLine(line, i, broken.length, paragraph, items, clusterOf, style, edges(i)),
    )
  })
}

/** What a column is wide. */
function columnWidth(style: TypeStyle, along: number, frame: { readonly height: number }): number {
  const columns = Math.round(style.columns)
  if (columns < 2 || frame.height <= 0) return along
  return Math.max(1, (along - ((columns - 1) * style.columnGap * style.size) / EM) / columns)
}

/** A paragraph for what breaks it, and of which cluster each item is. */
function itemsOf(
  clusters: readonly Cluster[],
  hyphen: number,
): { readonly items: ParagraphItem[]; readonly clusterOf: number[] } {
  const items: ParagraphItem[] = []
  const clusterOf: number[] = []
  clusters.forEach((cluster, i) => {
    const put = (item: ParagraphItem) => {
      items.push(item)
      clusterOf.push(i)
    }
    const { advance, isSpace, breakAfter } = cluster
    if (isSpace) put({ kind: 'glue', width: advance, stretch: advance * STRETCH, shrink: advance * SHRINK })
    else if (breakAfter === 'hyphen')
      put({ kind: 'penalty', width: hyphen, penalty: HYPHEN_PENALTY, isFlagged: true })
    else {
      put({ kind: 'box', width: advance })
      if (breakAfter === 'may') put({ kind: 'penalty', width: 0, penalty: 0, isFlagged: false })
    }
  })
  return { items, clusterOf }
}

function looseLine(
  { from, to, ratio }: BrokenLine,
  number: number,
  count: number,
  paragraph: Paragraph,
  items: readonly ParagraphItem[],
  clusterOf: readonly number[],
  style: TypeStyle,
  measure: number,
): LooseLine {
  const { clusters } = paragraph
  const first = number === 0 ? 0 : (clusterOf[from] ?? clusters.length)
  const isLast = number === count - 1
  const ending = to < items.length ? items[to] : undefined
  const next = isLast ? clusters.length : clusterOf[to] + (ending?.kind === 'glue' ? 0 : 1)
  const own = withoutEndSpaces(clusters.slice(first, next))
  const hasHyphen = ending?.kind === 'penalty' && ending.isFlagged
  const start = number === 0 ? paragraph.start : (own[0]?.start ?? paragraph.start)
  // Spaces at the end belong to the line that they end.
  const after = isLast
    ? clusters.at(-1)
    : clusters[Math.max(0, (clusterOf[startOfNext(items, to)] ?? next) - 1)]
  const line = {
    paragraph,
    clusters: own,
    start,
    end: Math.max(start, after?.end ?? start),
    spaceBy: 0,
    hasHyphen,
    isFirst: number === 0,
    isLast,
  }
  if (style.align !== 'justify' || (isLast && ratio === 0)) return line
  const spaces = own.filter(({ isSpace }) => isSpace).length
  const room = measure - lengthOf(line, { ...style, width: 100 })
  const most = isLast ? 0 : Infinity
  return { ...line, spaceBy: spaces > 0 ? Math.min(most, room / spaces) : 0 }
}

function startOfNext(items: readonly ParagraphItem[], to: number): number {
  let at = to
  while (at < items.length && items[at].kind !== 'box') at++
  return at
}

// -------------------------------------------------------------------- places

function place(
  lines: readonly LooseLine[],
  style: TypeStyle,
  size: number,
  along: number | null,
  frame: { readonly width: number | null; readonly height: number },
  fonts: readonly Font[],
  isDown: boolean,
  scales: readonly number[] = [],
  insets: readonly { readonly left: number; readonly right: number }[] = [],
): Omit<TypeLayout, 'missing'> {
  const { descender, capHeight } = fonts[0].metrics
  // Capitals of the first line stand in line with the frame's upper edge.
  const top = isDown ? 0.5 : capHeight
  const glyphs: PlacedGlyph[] = []
  const placed: TypeLine[] = []
  const columns = along === null || style.fit !== 'none' ? 1 : Math.round(style.columns)
  const measure = along === null ? null : columnWidth({ ...style, size, columns }, along, frame)
  const gap = (style.columnGap * size) / EM
  let column = 0
  let across = 0
  let isTop = true
  lines.forEach((line, i) => {
    const scale = scales[i] ?? 1
    const em = size * scale
    const step = style.leading * em
    // 1. The next baseline, in this column or the next.
    const space = line.isFirst && !isTop ? (style.paragraphSpace * size) / EM : 0
    let next = isTop ? top * em : across + step + space
    if (columns > 1 && !isTop && column < columns - 1 && next - descender * em > frame.height + 1e-6) {
      column++
      next = top * em
    }
    isTop = false
    across = next
    // 2. Where along the measure it begins.
    const length = lengthOf(line, style) * em
    const indent = (Math.max(0, line.isFirst ? style.indent : -style.indent) * size) / EM
    const hang = style.opticalMargins && !isDown ? overhang(line.clusters.map(charactersOf)) : null
    const left = (hang?.left ?? 0) * em * (style.width / 100)
    const right = (hang?.right ?? 0) * em * (style.width / 100)
    const room = (measure ?? length) - length - indent
    const isRight = line.paragraph.isLeft
    const shareOf = { start: isRight ? 1 : 0, middle: 0.5, end: isRight ? 0 : 1, justify: isRight ? 1 : 0 }
    const share = shareOf[style.align]
    const origin = measure === null ? -length * share : column * (measure + gap)
    const inset = (insets[i]?.left ?? 0) * em
    const from =
      insets.length > 0
        ? origin - inset
        : origin + (isRight ? 0 : indent) + room * (measure === null ? 0 : share) + mix(-left, right, share)
    // Justified lines reach over both edges.
    const wider = style.align === 'justify' && line.spaceBy > 0 ? left + right : 0
    placed.push(
      placeLine(
        line,
        placed.length,
        { from, across, em, style, isDown, wider, capHeight, descender, scale },
        glyphs,
      ),
    )
  })
  const longest = Math.max(0, ...placed.map(({ length }) => length))
  const deep = placed.length > 0 ? across + (placed.at(-1)?.descent ?? 0) : 0
  const whole = columns > 1 ? Math.max(frame.height, deep) : deep
  if (!isDown) return { isDown, glyphs, lines: placed, width: along ?? longest, height: whole, size }
  // Columns follow each other from the right.
  const width = frame.width ?? deep
  const turned = (x: number) => width - x
  return {
    isDown,
    glyphs: glyphs.map((own) => ({ ...own, x: turned(0) + own.x })),
    lines: placed.map((own) => ({ ...own, across: turned(own.across) })),
    width,
    height: along ?? longest,
    size,
  }
}

/** The room beside the first and the last letter of a line, in ems. */
function sideRooms(
  { clusters }: LooseLine,
  style: TypeStyle,
): { readonly left: number; readonly right: number } {
  const seen = inSeenOrder(clusters, ({ level }) => level)
  const edge = (cluster: Cluster | undefined, isLeft: boolean): number => {
    const shaped = isLeft ? cluster?.glyphs[0] : cluster?.glyphs.at(-1)
    if (!cluster || !shaped) return 0
    const [from, to] = outlineExtent(cluster.font.outline(shaped.glyph))
    return from > to ? 0 : isLeft ? from : shaped.advanceX - to
  }
  const by = style.width / 100
  return { left: edge(seen[0], true) * by, right: edge(seen.at(-1), false) * by }
}

/** From where to where an outline reaches across, control points among it; nothing: from more to less. */
function outlineExtent(outline: Float32Array): readonly [number, number] {
  let [from, to] = [Infinity, -Infinity]
  for (let i = 0; i < outline.length; i += 1 + OUTLINE_NUMBERS[outline[i]])
    for (let k = 1; k < OUTLINE_NUMBERS[outline[i]]; k += 2) {
      from = Math.min(from, outline[i + k])
      to = Math.max(to, outline[i + k])
    }
  return [from, to]
}

const mix = (a: number, b: number, share: number): number => a * (1 - share) + b * share

const charactersOf = ({ glyphs, start, end, font }: Cluster) => ({ glyphs, start, end, font })

interface LinePlace {
  readonly from: number
  readonly across: number
  readonly em: number
  readonly style: TypeStyle
  readonly isDown: boolean
  readonly wider: number
  readonly capHeight: number
  readonly descender: number
  readonly scale: number
}

function placeLine(
  line: LooseLine,
  number: number,
  { from, across, em, style, isDown, wider, capHeight, descender, scale }: LinePlace,
  glyphs: PlacedGlyph[],
): TypeLine {
  const sizeX = isDown ? em : (em * style.width) / 100
  const raised = (style.baseline * em) / EM
  const spaces = line.clusters.filter(({ isSpace }) => isSpace).length
  const more = spaces > 0 ? wider / spaces : 0
  const carets: Caret[] = []
  let pen = from
  const put = (cluster: Pick<Cluster, 'glyphs' | 'font' | 'start' | 'end'>, advance: number): void => {
    let own = pen
    for (const shaped of cluster.glyphs) {
      const x = isDown ? -across + shaped.offsetX * em : own + shaped.offsetX * sizeX
      const y = isDown ? own - shaped.offsetY * em : across - shaped.offsetY * em - raised
      glyphs.push({
        font: cluster.font,
        glyph: shaped.glyph,
        x,
        y,
        sizeX,
        sizeY: em,
        line: number,
        start: cluster.start,
        end: cluster.end,
        advance,
      })
      own += isDown ? -shaped.advanceY * em : shaped.advanceX * sizeX
    }
  }
  for (const cluster of inSeenOrder(line.clusters, ({ level }) => (isDown ? 0 : level))) {
    const advance =
      (cluster.advance + (cluster.isSpace ? line.spaceBy : 0)) * sizeX + (cluster.isSpace ? more : 0)
    put(cluster, advance)
    // A caret before each character that it stands for: a ligature is shared evenly.
    const count = Math.max(1, cluster.end - cluster.start)
    const isLeft = !isDown && cluster.level % 2 === 1
    for (let i = 0; i < count; i++)
      carets.push({ index: cluster.start + i, at: pen + advance * (isLeft ? 1 - i / count : i / count) })
    if (cluster.end === line.clusters.at(-1)?.end)
      carets.push({ index: cluster.end, at: isLeft ? pen : pen + advance - (style.tracking / EM) * sizeX })
    pen += advance
  }
  if (line.hasHyphen) {
    const { start = line.start, end = line.end } = line.clusters.at(-1) ?? {}
    put({ ...line.paragraph.hyphen, start, end }, line.paragraph.hyphen.advance * sizeX)
  }
  if (carets.length === 0) carets.push({ index: line.start, at: from })
  // Spaces at the end are not seen: the caret beyond them stands where they begin.
  const lastSeen = line.clusters.at(-1)?.end ?? line.start
  for (let index = lastSeen + 1; index <= line.end; index++)
    carets.push({ index, at: carets.find((own) => own.index === lastSeen)?.at ?? from })
  carets.sort((a, b) => a.index - b.index)
  const length = lengthOf(line, style) * em + wider
  return {
    start: line.start,
    end: line.end,
    from,
    length,
    across,
    // What a caret is tall: fonts say much more of themselves, or less.
    ascent: isDown ? em / 2 : 1.12 * capHeight * em,
    descent: isDown ? em / 2 : Math.min(0.25, -descender) * em,
    carets,
    scale,
  }
}
