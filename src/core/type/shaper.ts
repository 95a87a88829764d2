import { InvalidValueError } from '../errors'
import { openLibrary, type Library } from '../wasm/library'
import { SHAPER } from './shaper-binary'

/**
 * The shaping engine (HarfBuzz) as this thread has it: fonts opened from bytes, text shaped into glyphs, outlines. Everything is
 * given in ems: 1 is the size of the type, y goes up.
 */

interface ShaperExports {
  malloc(bytes: number): number
  free(address: number): void
  hb_blob_create(data: number, length: number, mode: number, user: number, destroy: number): number
  hb_blob_destroy(blob: number): void
  hb_face_create(blob: number, index: number): number
  hb_face_get_upem(face: number): number
  hb_face_reference_table(face: number, tag: number): number
  hb_blob_get_length(blob: number): number
  hb_face_destroy(face: number): void
  hb_font_create(face: number): number
  hb_font_destroy(font: number): void
  hb_font_set_scale(font: number, x: number, y: number): void
  hb_font_set_variations(font: number, variations: number, count: number): void
  hb_font_get_h_extents(font: number, extents: number): number
  hb_font_get_nominal_glyph(font: number, unicode: number, glyph: number): number
  hb_font_get_glyph_h_advance(font: number, glyph: number): number
  hb_font_draw_glyph(font: number, glyph: number, funcs: number, data: number): void
  hb_ot_metrics_get_position(font: number, tag: number, position: number): number
  hb_ot_name_get_utf16(face: number, name: number, language: number, size: number, text: number): number
  hb_ot_var_get_axis_infos(face: number, from: number, count: number, infos: number): number
  hb_ot_layout_table_get_feature_tags(
    face: number,
    table: number,
    from: number,
    count: number,
    tags: number,
  ): number
  hb_language_from_string(text: number, length: number): number
  hb_buffer_create(): number
  hb_buffer_destroy(buffer: number): void
  hb_buffer_add_utf16(buffer: number, text: number, length: number, offset: number, items: number): void
  hb_buffer_guess_segment_properties(buffer: number): void
  hb_buffer_set_direction(buffer: number, direction: number): void
  hb_buffer_set_cluster_level(buffer: number, level: number): void
  hb_buffer_set_language(buffer: number, language: number): void
  hb_buffer_get_length(buffer: number): number
  hb_buffer_get_glyph_infos(buffer: number, length: number): number
  hb_buffer_get_glyph_positions(buffer: number, length: number): number
  hb_shape(font: number, buffer: number, features: number, count: number): void
  hb_draw_funcs_create(): number
  hb_draw_funcs_set_move_to_func(funcs: number, run: number, user: number, destroy: number): void
  hb_draw_funcs_set_line_to_func(funcs: number, run: number, user: number, destroy: number): void
  hb_draw_funcs_set_quadratic_to_func(funcs: number, run: number, user: number, destroy: number): void
  hb_draw_funcs_set_cubic_to_func(funcs: number, run: number, user: number, destroy: number): void
  hb_draw_funcs_set_close_path_func(funcs: number, run: number, user: number, destroy: number): void
}

/** Values of the engine's enumerations. */
const DIRECTIONS = { right: 4, left: 5, down: 6 } as const
/** Which way a run is set. */
export type RunDirection = keyof typeof DIRECTIONS
const WRITABLE = 2
const MONOTONE_CHARACTERS = 1
/** Bytes of what it tells of a glyph, of a feature, of an axis. */
const [GLYPH_BYTES, FEATURE_BYTES, AXIS_BYTES] = [20, 16, 32]
const MOST_AXES = 16
const MOST_FEATURES = 256
const TO_THE_END = 0xffffffff

/** Numbers in an outline, and how many follow each. */
export const OUTLINE = { move: 0, line: 1, quadratic: 2, cubic: 3, close: 4 } as const

export interface ShapedGlyph {
  readonly glyph: number
  /** Index of the first UTF-16 unit that it stands for. */
  readonly cluster: number
  readonly advanceX: number
  readonly advanceY: number
  readonly offsetX: number
  readonly offsetY: number
}

export interface FontMetrics {
  /** How far it reaches above the baseline, and below it (negative). */
  readonly ascender: number
  readonly descender: number
  readonly lineGap: number
  readonly capHeight: number
  readonly xHeight: number
}

export interface FontAxis {
  readonly tag: string
  readonly label: string
  readonly min: number
  readonly max: number
  readonly default: number
}

const tagOf = (name: string): number =>
  [0, 1, 2, 3].reduce((tag, i) => (tag << 8) | (name.charCodeAt(i) & 255), 0)
const nameOf = (tag: number): string =>
  String.fromCharCode((tag >>> 24) & 255, (tag >>> 16) & 255, (tag >>> 8) & 255, tag & 255)

/** The engine of a thread. */
class Engine {
  readonly library: Library<ShaperExports> = openLibrary<ShaperExports>(SHAPER)
  /** What an outline is drawn into; see {@link OUTLINE}. */
  drawn: number[] = []
  readonly drawFuncs: number

  constructor() {
    const { call, callback } = this.library
    const funcs = call.hb_draw_funcs_create()
    const put =
      (what: number, from: number, to: number) =>
      (...args: number[]): void => {
        this.drawn.push(what)
        for (let i = from; i < to; i++) this.drawn.push(args[i])
      }
    call.hb_draw_funcs_set_move_to_func(funcs, callback('iiiffi', put(OUTLINE.move, 3, 5)), 0, 0)
    call.hb_draw_funcs_set_line_to_func(funcs, callback('iiiffi', put(OUTLINE.line, 3, 5)), 0, 0)
    call.hb_draw_funcs_set_quadratic_to_func(funcs, callback('iiiffffi', put(OUTLINE.quadratic, 3, 7)), 0, 0)
    call.hb_draw_funcs_set_cubic_to_func(funcs, callback('iiiffffffi', put(OUTLINE.cubic, 3, 9)), 0, 0)
    call.hb_draw_funcs_set_close_path_func(funcs, callback('iiii', put(OUTLINE.close, 3, 3)), 0, 0)
    this.drawFuncs = funcs
  }

  get u32(): Uint32Array {
    return new Uint32Array(this.library.memory.buffer)
  }
  get i32(): Int32Array {
    return new Int32Array(this.library.memory.buffer)
  }
  get f32(): Float32Array {
    return new Float32Array(this.library.memory.buffer)
  }

  /** Lends so many bytes. */
  lend<T>(bytes: number, work: (address: number) => T): T {
    const address = this.library.call.malloc(Math.max(4, bytes))
    try {
      return work(address)
    } finally {
      this.library.call.free(address)
    }
  }
}

let engine: Engine | null = null
const theEngine = (): Engine => (engine ??= new Engine())

/** A font file. It stays open as long as the thread lives: see {@link openFont}. */
export class FontFile {
  readonly unitsPerEm: number
  private readonly face: number
  private readonly fonts = new Map<string, Font>()

  /** @param bytes of a TrueType or OpenType file. @throws {InvalidValueError} where it is none. */
  constructor(readonly bytes: Uint8Array) {
    const { library } = theEngine()
    const { call } = library
    const data = call.malloc(bytes.length)
    new Uint8Array(library.memory.buffer).set(bytes, data)
    const blob = call.hb_blob_create(data, bytes.length, WRITABLE, 0, 0)
    this.face = call.hb_face_create(blob, 0)
    call.hb_blob_destroy(blob)
    const head = call.hb_face_reference_table(this.face, tagOf('head'))
    const isFont = call.hb_blob_get_length(head) > 0
    call.hb_blob_destroy(head)
    if (!isFont) {
      call.hb_face_destroy(this.face)
      call.free(data)
      throw new InvalidValueError('font', 'must be a TrueType or OpenType file')
    }
    this.unitsPerEm = call.hb_face_get_upem(this.face)
  }

  /** What the file says of itself. @param id of its naming table: 1 family, 13 licence, 0 copyright. */
  nameOf(id: number): string {
    const e = theEngine()
    const { call } = e.library
    const most = 4000
    return e.lend(2 * most + 8, (address) => {
      e.u32[address >> 2] = most
      const english = e.lend(4, (text) => {
        new Uint8Array(e.library.memory.buffer).set([0x65, 0x6e], text)
        return call.hb_language_from_string(text, 2)
      })
      call.hb_ot_name_get_utf16(this.face, id, english, address, address + 4)
      const length = e.u32[address >> 2]
      const units = new Uint16Array(e.library.memory.buffer, address + 4, Math.min(most, length))
      return String.fromCharCode(...units).trim()
    })
  }

  /** The ways in which it can be varied. */
  get axes(): FontAxis[] {
    const e = theEngine()
    return e.lend(4 + MOST_AXES * AXIS_BYTES, (address) => {
      e.u32[address >> 2] = MOST_AXES
      e.library.call.hb_ot_var_get_axis_infos(this.face, 0, address, address + 4)
      return Array.from({ length: e.u32[address >> 2] }, (_, i) => {
        const at = (address + 4 + i * AXIS_BYTES) >> 2
        const tag = nameOf(e.u32[at + 1])
        const nameId = e.u32[at + 2]
        const [min, byDefault, max] = e.f32.subarray(at + 4, at + 7)
        return { tag, label: this.nameOf(nameId) || tag, min, max, default: byDefault }
      })
    })
  }

  /** Tags of its features: `liga`, `smcp`, `ss01`, … */
  get features(): string[] {
    const e = theEngine()
    const found = new Set<string>()
    for (const table of ['GSUB', 'GPOS'])
      e.lend(4 + 4 * MOST_FEATURES, (address) => {
        e.u32[address >> 2] = MOST_FEATURES
        e.library.call.hb_ot_layout_table_get_feature_tags(this.face, tagOf(table), 0, address, address + 4)
        const count = e.u32[address >> 2]
        for (const tag of e.u32.subarray((address >> 2) + 1, (address >> 2) + 1 + count))
          found.add(nameOf(tag))
      })
    return [...found].sort()
  }

  /** The font at a place along its axes; those left out are at their defaults. */
  at(axes: Readonly<Record<string, number>>): Font {
    const key = JSON.stringify(Object.entries(axes).sort(([a], [b]) => (a < b ? -1 : 1)))
    const known = this.fonts.get(key)
    if (known) return known
    if (this.fonts.size > 40) {
      for (const font of this.fonts.values()) font.close()
      this.fonts.clear()
    }
    const made = new Font(this, this.face, this.unitsPerEm, axes)
    this.fonts.set(key, made)
    return made
  }
}

/** A font at a place along its axes. */
export class Font {
  private readonly font: number
  private readonly outlines = new Map<number, Float32Array>()
  readonly metrics: FontMetrics

  constructor(
    readonly file: FontFile,
    face: number,
    private readonly unitsPerEm: number,
    readonly axes: Readonly<Record<string, number>>,
  ) {
    const e = theEngine()
    const { call } = e.library
    this.font = call.hb_font_create(face)
    call.hb_font_set_scale(this.font, unitsPerEm, unitsPerEm)
    const given = Object.entries(axes)
    e.lend(8 * given.length, (address) => {
      given.forEach(([tag, value], i) => {
        e.u32[(address >> 2) + 2 * i] = tagOf(tag)
        e.f32[(address >> 2) + 2 * i + 1] = value
      })
      if (given.length > 0) call.hb_font_set_variations(this.font, address, given.length)
    })
    this.metrics = e.lend(64, (address) => {
      call.hb_font_get_h_extents(this.font, address)
      const [ascender, descender, lineGap] = [...e.i32.subarray(address >> 2, (address >> 2) + 3)].map(
        (v) => v / unitsPerEm,
      )
      const position = (tag: string, otherwise: number) =>
        call.hb_ot_metrics_get_position(this.font, tagOf(tag), address)
          ? e.i32[address >> 2] / unitsPerEm
          : otherwise
      return {
        ascender,
        descender,
        lineGap,
        capHeight: position('cpht', 0.7),
        xHeight: position('xhgt', 0.5),
      }
    })
  }

  close(): void {
    theEngine().library.call.hb_font_destroy(this.font)
  }

  /** How far a glyph moves the pen, in ems. */
  advanceOf(glyph: number): number {
    return theEngine().library.call.hb_font_get_glyph_h_advance(this.font, glyph) / this.unitsPerEm
  }

  /** Whether it has a glyph of its own for a character. */
  has(codePoint: number): boolean {
    const e = theEngine()
    return e.lend(4, (address) =>
      Boolean(e.library.call.hb_font_get_nominal_glyph(this.font, codePoint, address)),
    )
  }

  /**
   * Shapes a part of a text, which is looked at as a whole.
   * @param features tags and values: `{ kern: 0, smcp: 1 }`.
   * @returns glyphs in the order in which they are set, as seen from left to right (from above in a column).
   */
  shape(
    text: string,
    start: number,
    length: number,
    direction: RunDirection,
    features: Readonly<Record<string, number>>,
  ): ShapedGlyph[] {
    const e = theEngine()
    const { call, memory } = e.library
    const given = Object.entries(features)
    const buffer = call.hb_buffer_create()
    try {
      e.lend(2 * text.length, (address) => {
        const units = new Uint16Array(memory.buffer, address, text.length)
        for (let i = 0; i < text.length; i++) units[i] = text.charCodeAt(i)
        call.hb_buffer_add_utf16(buffer, address, text.length, start, length)
      })
      call.hb_buffer_set_cluster_level(buffer, MONOTONE_CHARACTERS)
      call.hb_buffer_guess_segment_properties(buffer)
      call.hb_buffer_set_direction(buffer, DIRECTIONS[direction])
      e.lend(FEATURE_BYTES * given.length, (address) => {
        given.forEach(([tag, value], i) =>
          e.u32.set([tagOf(tag), value, 0, TO_THE_END], (address >> 2) + 4 * i),
        )
        call.hb_shape(this.font, buffer, address, given.length)
      })
      const count = call.hb_buffer_get_length(buffer)
      const infos = call.hb_buffer_get_glyph_infos(buffer, 0)
      const positions = call.hb_buffer_get_glyph_positions(buffer, 0)
      const [u32, i32] = [e.u32, e.i32]
      return Array.from({ length: count }, (_, i) => {
        const info = (infos + i * GLYPH_BYTES) >> 2
        const position = (positions + i * GLYPH_BYTES) >> 2
        const em = (at: number) => i32[position + at] / this.unitsPerEm
        return {
          glyph: u32[info],
          cluster: u32[info + 2],
          advanceX: em(0),
          advanceY: em(1),
          offsetX: em(2),
          offsetY: em(3),
        }
      })
    } finally {
      call.hb_buffer_destroy(buffer)
    }
  }

  /** A glyph's outline: numbers of {@link OUTLINE}, each followed by its points (x, y in ems, y up). */
  outline(glyph: number): Float32Array {
    const known = this.outlines.get(glyph)
    if (known) return known
    const e = theEngine()
    e.drawn = []
    e.library.call.hb_font_draw_glyph(this.font, glyph, e.drawFuncs, 0)
    const made = Float32Array.from(e.drawn)
    const per = 1 / this.unitsPerEm
    for (let i = 0; i < made.length;) {
      const points = OUTLINE_NUMBERS[made[i]]
      for (let k = 1; k <= points; k++) made[i + k] *= per
      i += 1 + points
    }
    this.outlines.set(glyph, made)
    return made
  }
}

/** How many numbers follow each of {@link OUTLINE}. */
export const OUTLINE_NUMBERS: readonly number[] = [2, 2, 4, 6, 0]

const opened = new WeakMap<Uint8Array, FontFile>()

/** A font file, opened once a thread. @throws {InvalidValueError} where the bytes are none. */
export function openFont(bytes: Uint8Array): FontFile {
  const known = opened.get(bytes)
  if (known) return known
  const made = new FontFile(bytes)
  opened.set(bytes, made)
  return made
}
