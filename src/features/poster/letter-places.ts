import type { ContentOf } from '@/core/sheet/contents/registry'
import type { SeenType } from '@/engine/sheet-requests'

/** Where each letter of a block stands, as blocks of their own: text and frame in shares of the sheet. */
export function letterPlaces(
  { text, box }: Pick<ContentOf<'type'>, 'text' | 'box'>,
  { lines, frame, isDown }: Pick<SeenType, 'lines' | 'frame' | 'isDown'>,
): { readonly text: string; readonly box: readonly [number, number, number, number] }[] {
  const [perX, perY] = [box[2] / frame.width, box[3] / frame.height]
  return lines.flatMap((line) =>
    line.carets.flatMap((caret, i) => {
      const next = line.carets[i + 1]
      if (!next || next.index <= caret.index) return []
      const letter = text.slice(caret.index, next.index)
      if (letter.trim() === '') return []
      const from = Math.min(caret.at, next.at)
      const long = Math.abs(next.at - caret.at)
      const deep = line.ascent + line.descent
      const [x, y, width, height] = isDown
        ? [line.across - line.descent, from, deep, long]
        : [from, line.across - line.ascent, long, deep]
      return [
        {
          text: letter,
          box: [
            box[0] + x * perX,
            box[1] + y * perY,
            Math.max(0.001, width * perX),
            Math.max(0.001, height * perY),
          ] as const,
        },
      ]
    }),
  )
}
