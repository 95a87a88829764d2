import { InvalidValueError } from '../errors'
import { openLibrary, type Library } from '../wasm/library'
import { SUBSETTER } from './subsetter-binary'

/** What cuts fonts down (HarfBuzz's subsetter), as this thread has it. */
interface SubsetterExports {
  malloc(bytes: number): number
  free(address: number): void
  hb_blob_create(data: number, length: number, mode: number, user: number, destroy: number): number
  hb_blob_destroy(blob: number): void
  hb_blob_get_length(blob: number): number
  hb_blob_get_data(blob: number, length: number): number
  hb_face_create(blob: number, index: number): number
  hb_face_destroy(face: number): void
  hb_face_reference_blob(face: number): number
  hb_set_add(set: number, value: number): void
  hb_subset_input_create_or_fail(): number
  hb_subset_input_destroy(input: number): void
  hb_subset_input_glyph_set(input: number): number
  hb_subset_input_set_flags(input: number, flags: number): void
  hb_subset_input_pin_all_axes_to_default(input: number, face: number): number
  hb_subset_input_pin_axis_location(input: number, face: number, tag: number, value: number): number
  hb_subset_or_fail(face: number, input: number): number
}

/** Glyphs keep their numbers; hints are left out. */
const FLAGS = 0x1 | 0x2
const WRITABLE = 2

let library: Library<SubsetterExports> | null = null

/**
 * A font with no more than some glyphs, which keep their numbers, at one place along its axes.
 * @param glyphs numbers of glyphs; 0 is always kept.
 * @throws {InvalidValueError} where the font cannot be cut down.
 */
export function subsetFont(
  bytes: Uint8Array,
  glyphs: Iterable<number>,
  axes: Readonly<Record<string, number>>,
): Uint8Array<ArrayBuffer> {
  library ??= openLibrary<SubsetterExports>(SUBSETTER)
  const { call, memory } = library
  const data = call.malloc(bytes.length)
  new Uint8Array(memory.buffer).set(bytes, data)
  const blob = call.hb_blob_create(data, bytes.length, WRITABLE, 0, 0)
  const face = call.hb_face_create(blob, 0)
  const input = call.hb_subset_input_create_or_fail()
  try {
    const wanted = call.hb_subset_input_glyph_set(input)
    call.hb_set_add(wanted, 0)
    for (const glyph of glyphs) call.hb_set_add(wanted, glyph)
    call.hb_subset_input_set_flags(input, FLAGS)
    call.hb_subset_input_pin_all_axes_to_default(input, face)
    for (const [tag, value] of Object.entries(axes)) {
      const number = [0, 1, 2, 3].reduce((sum, i) => (sum << 8) | (tag.charCodeAt(i) & 255), 0)
      call.hb_subset_input_pin_axis_location(input, face, number, value)
    }
    const made = call.hb_subset_or_fail(face, input)
    if (made === 0) throw new InvalidValueError('font', 'cannot be cut down to the glyphs that are used')
    const out = call.hb_face_reference_blob(made)
    const length = call.hb_blob_get_length(out)
    const font = new Uint8Array(memory.buffer, call.hb_blob_get_data(out, 0), length).slice()
    call.hb_blob_destroy(out)
    call.hb_face_destroy(made)
    return font
  } finally {
    call.hb_subset_input_destroy(input)
    call.hb_face_destroy(face)
    call.hb_blob_destroy(blob)
    call.free(data)
  }
}
