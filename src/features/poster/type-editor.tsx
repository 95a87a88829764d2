'use client'

import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react'
import type { ContentOf } from '@/core/sheet/contents/registry'
import { MOST_TYPE_LENGTH } from '@/core/sheet/contents/type'
import { frameMap } from '@/core/type/type-outlines'
import type { SeenType } from '@/engine/sheet-requests'
import { changeContent } from '../sheet/layer-actions'
import { caretAt, lineOf, nearestCaret, selectionBars, verticalStep, lineEnd } from './type-carets'

interface TypeEditorProps {
  readonly layerId: string
  readonly content: ContentOf<'type'>
  readonly set: SeenType
  readonly sheet: { readonly width: number; readonly height: number }
  readonly onEnd: () => void
}

/**
 * Text that is edited where it stands: a text field of the browser's own, which is not seen, takes keys, input methods and
 * spelling; caret and selection are drawn where the letters are.
 */
export function TypeEditor({ layerId, content, set, sheet, onEnd }: TypeEditorProps) {
  const fieldRef = useRef<HTMLTextAreaElement>(null)
  const overlayRef = useRef<HTMLDivElement>(null)
  // It begins with all of it chosen: what is typed takes its place.
  const [chosen, setChosen] = useState({ start: 0, end: content.text.length, isBackward: false })
  const dragFrom = useRef<number | null>(null)
  useEffect(() => {
    const field = fieldRef.current
    if (!field) return
    field.focus({ preventScroll: true })
    field.select()
  }, [])
  const map = frameMap(set.frame, content, set.frame.height)
  const read = () => {
    const field = fieldRef.current
    if (field)
      setChosen({
        start: field.selectionStart,
        end: field.selectionEnd,
        isBackward: field.selectionDirection === 'backward',
      })
  }
  const choose = (from: number, to: number) => {
    const field = fieldRef.current
    if (!field) return
    field.setSelectionRange(Math.min(from, to), Math.max(from, to), to < from ? 'backward' : 'forward')
    read()
  }
  /** The end of the selection that moves. */
  const head = chosen.isBackward ? chosen.start : chosen.end
  const tail = chosen.isBackward ? chosen.end : chosen.start
  const indexAt = (e: PointerEvent): number | null => {
    const box = overlayRef.current?.getBoundingClientRect()
    if (!box) return null
    const x = ((e.clientX - box.left) / box.width) * sheet.width
    const y = ((e.clientY - box.top) / box.height) * sheet.height
    return nearestCaret(set, map, x, y)
  }
  const key = (e: KeyboardEvent<HTMLTextAreaElement>) => {
    if (e.nativeEvent.isComposing) return
    if (e.key === 'Escape') {
      e.preventDefault()
      e.stopPropagation()
      onEnd()
      return
    }
    const move = (to: number | null): void => {
      if (to === null) return
      e.preventDefault()
      choose(e.shiftKey ? tail : to, to)
    }
    // Lines are those that are seen, not those of the field.
    if (e.key === 'ArrowUp') move(verticalStep(set, head, -1))
    else if (e.key === 'ArrowDown') move(verticalStep(set, head, 1))
    else if (e.key === 'Home' && !e.ctrlKey) move(lineOf(set, head)?.start ?? null)
    else if (e.key === 'End' && !e.ctrlKey) move(lineEnd(set, head))
  }
  const at = ([x, y]: readonly [number, number]) => map(x, y)
  const caret = caretAt(set, head)
  const isRange = chosen.start !== chosen.end
  const bars = isRange ? selectionBars(set, chosen.start, chosen.end) : []
  const { frame } = set
  return (
    <div
      ref={overlayRef}
      className="type-editor"
      onPointerDown={(e) => {
        if (e.button !== 0) return
        // The field keeps the focus.
        e.preventDefault()
        e.stopPropagation()
        const index = indexAt(e)
        if (index === null) return
        e.currentTarget.setPointerCapture(e.pointerId)
        dragFrom.current = e.shiftKey ? tail : index
        fieldRef.current?.focus({ preventScroll: true })
        choose(dragFrom.current, index)
      }}
      onPointerMove={(e) => {
        if (dragFrom.current === null || !e.currentTarget.hasPointerCapture(e.pointerId)) return
        const index = indexAt(e)
        if (index !== null) choose(dragFrom.current, index)
      }}
      onPointerUp={() => (dragFrom.current = null)}
      onDoubleClick={(e) => {
        e.stopPropagation()
        const word = wordAbout(content.text, head)
        choose(word[0], word[1])
      }}
    >
      <textarea
        ref={fieldRef}
        aria-label={`Text of ${content.text.split('\n')[0] || 'the block'}`}
        data-testid="type-text"
        spellCheck
        maxLength={MOST_TYPE_LENGTH}
        dir="auto"
        value={content.text}
        style={{
          left: `${(100 * frame.x) / sheet.width}%`,
          top: `${(100 * frame.y) / sheet.height}%`,
          width: `${(100 * frame.width) / sheet.width}%`,
          height: `${(100 * frame.height) / sheet.height}%`,
        }}
        onChange={(e) => {
          const { value } = e.target
          changeContent(layerId, 'type', 'text', (own) => void (own.text = value), 'text')
          read()
        }}
        onSelect={read}
        onKeyDown={key}
        onBlur={onEnd}
      />
      <svg viewBox={`0 0 ${sheet.width} ${sheet.height}`} preserveAspectRatio="none" aria-hidden="true">
        {bars.map((bar, i) => (
          <polygon key={i} className="chosen" points={bar.map((p) => at(p).join(',')).join(' ')} />
        ))}
        {caret &&
          ['caret-under', 'caret'].map((name) => {
            const [from, to] = caret.map(at)
            return (
              <line
                key={`${name} ${head}`}
                className={name}
                x1={from[0]}
                y1={from[1]}
                x2={to[0]}
                y2={to[1]}
              />
            )
          })}
      </svg>
    </div>
  )
}

/** The word about a place in a text. */
function wordAbout(text: string, at: number): readonly [number, number] {
  let [from, to] = [at, at]
  while (from > 0 && /[\p{L}\p{N}\p{M}'’]/u.test(text[from - 1])) from--
  while (to < text.length && /[\p{L}\p{N}\p{M}'’]/u.test(text[to])) to++
  return [from, to]
}
