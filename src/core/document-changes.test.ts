import fc from 'fast-check'
import { produce } from 'immer'
import { describe, expect, it } from 'vitest'
import { applyDocumentChanges, documentChanges, documentChangeSchema } from './document-changes'

interface Thing {
  readonly id: string
  readonly params: { readonly size: number }
}
/** A document of lists of things, as projects are. */
const aDocument = () => ({
  name: 'Low Water',
  shots: [{ id: 'shot', margin: 0.1 }],
  passes: ['clay', 'cavity', 'id'].map((id): Thing => ({ id, params: { size: 1 } })),
})

const { value } = fc.letrec<{ value: unknown }>((tie) => ({
  value: fc.oneof(
    { maxDepth: 4 },
    fc.constantFrom(null, true, 0, 1.5, -2, 'a', ''),
    fc.array(tie('value'), { maxLength: 5 }),
    fc.dictionary(fc.constantFrom('a', 'b', 'list', 'name'), tie('value'), { maxKeys: 4 }),
  ),
}))

describe('documentChanges', () => {
  it('lead from any state to any other, through JSON', () => {
    fc.assert(
      fc.property(value, value, (before, after) => {
        const given = structuredClone(before)
        const changes: unknown = JSON.parse(JSON.stringify(documentChanges(before, after)))
        const read = documentChangeSchema.array().parse(changes)
        expect(applyDocumentChanges(before, read)).toEqual(after)
        expect(before).toEqual(given)
      }),
      { numRuns: 1500, seed: 7 },
    )
  })
  it('are none where nothing changed, and small where little did', () => {
    const project = aDocument()
    expect(documentChanges(project, project)).toEqual([])
    const dragged = produce(project, (draft) => void (draft.shots[0].margin = 0.2))
    expect(documentChanges(project, dragged)).toEqual([{ path: ['shots', 0, 'margin'], value: 0.2 }])
    const fewer = produce(project, (draft) => void draft.passes.splice(2, 1))
    expect(documentChanges(project, fewer)).toEqual([{ path: ['passes'], at: 2, remove: 1, insert: [] }])
    const moved = produce(project, (draft) => {
      const [pass] = draft.passes.splice(0, 1)
      draft.passes.splice(1, 0, pass)
    })
    // Two things of a list changed places: their fields are looked at, no more.
    expect(applyDocumentChanges(project, documentChanges(project, moved))).toEqual(moved)
  })
  it.each([
    [[{ path: ['shots', 9, 'margin'], value: 1 }], 'shots.9 must be there'],
    [[{ path: ['name', 'x'], value: 1 }], 'name.x must be there'],
    [[{ path: ['name'], at: 0, remove: 0, insert: [] }], 'name must be a list'],
    [[{ path: ['__proto__', 'x'], value: 1 }], '__proto__ must be there'],
  ])('say where they lead nowhere: %j', (changes, words) => {
    expect(() => applyDocumentChanges(aDocument(), changes)).toThrow(words)
  })
})
