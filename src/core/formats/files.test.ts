import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { findFile, resolveReference } from './file-bundle'
import { isModelFile, isPictureFile } from './model-readers'
import { decodeText, TextScanner, toUtf8 } from './text-bytes'

const bytes = (text: string) => new TextEncoder().encode(text)
const bundle = (...paths: string[]) => new Map(paths.map((path, i) => [path, Uint8Array.of(i)]))

describe('references', () => {
  it('mean the file beside the one that names it, else the one whose folders agree longest', () => {
    const files = bundle('shed/a.obj', 'shed/tex/wood.png', 'boat/tex/wood.png', 'wood.png')
    expect(resolveReference(files, 'tex/wood.png', 'shed/a.obj')).toBe('shed/tex/wood.png')
    expect(resolveReference(files, 'tex/wood.png', 'boat/b.obj')).toBe('boat/tex/wood.png')
    expect(resolveReference(files, '../boat/tex/wood.png', 'shed/a.obj')).toBe('boat/tex/wood.png')
    expect(resolveReference(files, 'C:\\work\\boat\\tex\\WOOD.PNG', 'shed/a.obj')).toBe('boat/tex/wood.png')
    expect(resolveReference(files, 'other/wood.png', '')).toBe('shed/tex/wood.png')
    expect(resolveReference(files, 'stone.png', 'shed/a.obj')).toBeNull()
  })
  it('may be written in percents, and never leave what was given', () => {
    const files = bundle('my wood.png', 'etc/passwd.png')
    expect(resolveReference(files, 'my%20wood.png', 'a.gltf')).toBe('my wood.png')
    expect(resolveReference(files, '%E0%A4%A.png', 'a.gltf')).toBeNull()
    expect(findFile(files, '../../../../etc/shadow')).toBeNull()
    expect(findFile(files, 'https://pell-harbour.example/my wood.png')).toEqual(Uint8Array.of(0))
  })
  it('are of kinds that models need; what systems leave in folders is not', () => {
    for (const path of ['a.OBJ', 'x/b.glb', 'c.mtl', 'd.Jpeg']) expect(isModelFile(path)).toBe(true)
    for (const path of ['a.txt', '.hidden.obj', '__MACOSX/a.obj', 'x/.b.png', 'obj'])
      expect(isModelFile(path)).toBe(false)
    expect([isPictureFile('a.png'), isPictureFile('a.obj'), isPictureFile('a.mtl')]).toEqual([
      true,
      false,
      false,
    ])
  })
})

describe('text', () => {
  it('is read whatever its encoding', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', minLength: 2 }), (inner) => {
        const text = `v ${inner.replaceAll('\u0000', '')}`
        const wide = (little: boolean) => {
          const view = new DataView(new ArrayBuffer(2 + 2 * text.length))
          view.setUint16(0, 0xfeff, little)
          for (let i = 0; i < text.length; i++) view.setUint16(2 + 2 * i, text.charCodeAt(i), little)
          return new Uint8Array(view.buffer)
        }
        for (const form of [
          bytes(text),
          Uint8Array.of(0xef, 0xbb, 0xbf, ...bytes(text)),
          wide(true),
          wide(false),
        ]) {
          expect(decodeText(form)).toBe(text)
          expect(new TextDecoder().decode(toUtf8(form))).toBe(text)
        }
      }),
      { numRuns: 200, seed: 11 },
    )
  })
  it('gives numbers exactly as they are written', () => {
    fc.assert(
      fc.property(
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        fc.integer({ min: 0, max: 3 }),
        (value, form) => {
          const text = [String(value), value.toExponential(), value.toPrecision(12), value.toPrecision(3)][
            form
          ]
          expect(new TextScanner(bytes(text)).number()).toBe(Number(text))
        },
      ),
      { numRuns: 2000, seed: 12 },
    )
    for (const text of ['', 'x', '1x', '--1', '+', '.', 'e5', '1e', '0x10'])
      expect(new TextScanner(bytes(text)).number()).toSatisfy(
        (v: number) => Number.isNaN(v) || v === Number(text),
      )
  })
  it('goes on behind a line that says so, and counts lines', () => {
    const scanner = new TextScanner(bytes('a \\\r\n b \\ \n c # d\n\n e'))
    expect([scanner.word(), scanner.word(), scanner.word(), scanner.word()]).toEqual(['a', 'b', 'c', ''])
    scanner.nextLine()
    scanner.nextLine()
    expect([scanner.word(), scanner.line]).toEqual(['e', 5])
  })
})
