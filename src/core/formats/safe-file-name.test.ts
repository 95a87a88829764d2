import fc from 'fast-check'
import path from 'node:path'
import { expect, it } from 'vitest'
import { safeFileName } from './safe-file-name'

it.each([
  ['Low Water', 'Low Water'],
  ['a/b\\c:d*e?f"g<h>i|j', 'a_b_c_d_e_f_g_h_i_j'],
  ['../../etc/passwd', '_.._etc_passwd'],
  ['.hidden', 'hidden'],
  ['name. ', 'name'],
  ['', 'untitled'],
  [' .. ', 'untitled'],
  ['CON', '_CON'],
  ['nul.txt', '_nul.txt'],
  ['console', 'console'],
  ['gull\u202egnp.exe', 'gull_gnp.exe'],
  ['שלום', 'שלום'],
  ['e\u0301', 'é'],
])('makes of %j the name %j', (given, name) => expect(safeFileName(given)).toBe(name))

it('is one short step below any folder, whatever it is made of, and stays as it is', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'binary', maxLength: 400 }), (text) => {
      const name = safeFileName(text)
      expect(path.dirname(path.join('out', `${name}.png`))).toBe('out')
      expect(new TextEncoder().encode(name).length).toBeLessThanOrEqual(201)
      expect(name.length).toBeGreaterThan(0)
      expect(safeFileName(name)).toBe(name)
    }),
    { numRuns: 500, seed: 3 },
  )
})
