import { expect, it } from 'vitest'
import { newEffect, newLayer, newMask, newTerm, wholePicture } from '@/core/sheet/new-layer'
import { layerProblem, paintProblemId } from './source-problems'

const grid = { width: 300, height: 200, tiles: { '0,0': 'first', '1,0': 'second' } }
const painted = newLayer({ id: 'p', name: 'Paint', content: { kind: 'painted', version: 1, ...grid } })
const gone = { [paintProblemId('second')]: 'it is gone' }

it('tells of a picture that cannot be used', () => {
  const layer = newLayer({ id: 'a', name: 'a', content: wholePicture('sky') })
  expect(layerProblem(layer, { sky: 'it is broken' })).toBe('it is broken')
  expect(layerProblem(layer, gone)).toBeUndefined()
})

it('tells of paint that is gone: of a layer, of its mask, of the mask of an effect', () => {
  const term = newTerm('painted', { ...grid, outside: true, join: 'add' })
  const mask = { ...newMask(), terms: [term] }
  const plain = newLayer({ id: 'b', name: 'b', content: wholePicture('sky') })
  expect(layerProblem(painted, gone)).toBe('it is gone')
  expect(layerProblem({ ...plain, mask }, gone)).toBe('it is gone')
  expect(layerProblem({ ...plain, effects: [{ ...newEffect('e', 'levels'), mask }] }, gone)).toBe(
    'it is gone',
  )
  expect(layerProblem(painted, { [paintProblemId('third')]: 'it is gone' })).toBeUndefined()
  expect(layerProblem(painted, {})).toBeUndefined()
})
