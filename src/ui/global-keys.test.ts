import { describe, expect, it } from 'vitest'
import { usesKey, type FocusKind } from './global-keys'

const press = (key: string, held: 'ctrlKey' | 'metaKey' | 'altKey' | null = null) => ({
  key,
  ctrlKey: held === 'ctrlKey',
  metaKey: held === 'metaKey',
  altKey: held === 'altKey',
})

describe('usesKey', () => {
  it.each<[FocusKind, string, boolean]>([
    ['text', 'h', true],
    ['text', 'Delete', true],
    ['select', 'm', true],
    ['select', 'ArrowDown', true],
    ['number-slider', 'ArrowLeft', true],
    ['number-slider', 'Home', true],
    ['number-slider', 'Delete', true],
    ['number-slider', 'h', false],
    ['toggle', ' ', true],
    ['toggle', 'Delete', true],
    ['toggle', 'c', false],
    ['pressed', 'Enter', true],
    ['pressed', ' ', true],
    ['pressed', 'ArrowLeft', false],
    ['row', 'ArrowRight', true],
    ['row', 'Enter', true],
    ['row', 'h', false],
    ['own', 'ArrowUp', true],
    ['none', 'Enter', false],
    ['none', 'Delete', false],
  ])('of a focused %s: %s %s', (kind, key, used) => expect(usesKey(kind, press(key))).toBe(used))

  it('leaves to text its own editing keys, and to actions the rest with Ctrl or Cmd', () => {
    for (const held of ['ctrlKey', 'metaKey'] as const) {
      for (const key of ['z', 'Z', 'a', 'v']) expect(usesKey('text', press(key, held))).toBe(true)
      for (const key of ['k', '1', 'Enter']) expect(usesKey('text', press(key, held))).toBe(false)
      expect(usesKey('number-slider', press('z', held))).toBe(false)
    }
  })
  it('lets Alt pass where a control has no use for it', () => {
    expect(usesKey('select', press('1', 'altKey'))).toBe(false)
    expect(usesKey('text', press('1', 'altKey'))).toBe(true)
    expect(usesKey('pressed', press('Enter', 'altKey'))).toBe(false)
  })
})
