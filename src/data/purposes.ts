import type { PassSetName } from '@/core/passes/pass-sets'

/** What people come to make: how a project for it begins, where the demo shows it, and the page of the guide that leads there. */
export const PURPOSES = [
  {
    id: 'illustration',
    label: 'An illustration',
    note: 'Passes layered into a picture that looks drawn or painted.',
    set: 'illustration',
    demo: { projectId: 'low-water', step: 'sheet' },
    guide: 'purposes-illustration',
  },
  {
    id: 'overpaint',
    label: 'An overpaint',
    note: 'Light and perspective from the model, the rest by hand.',
    set: 'overpaint',
    demo: { projectId: 'low-water', step: 'sheet' },
    guide: 'purposes-overpaint',
  },
  {
    id: 'poster',
    label: 'A poster',
    note: 'A page in real measures, with type, inks and plates.',
    set: 'illustration',
    demo: { projectId: 'low-water', step: 'poster' },
    guide: 'purposes-poster',
  },
  {
    id: 'turntable',
    label: 'A turntable',
    note: 'The sheet in motion, as a film that closes.',
    set: 'illustration',
    demo: { projectId: 'brass-gauge', step: 'turntable' },
    guide: 'purposes-turntable',
  },
  {
    id: 'parts',
    label: 'Parts for a game',
    note: 'Each part whole, with its shadow and its place.',
    set: 'overpaint',
    demo: { projectId: 'low-water', step: 'export' },
    guide: 'purposes-parts',
  },
  {
    id: 'mesh',
    label: 'A mesh presentation',
    note: 'Wires, materials and numbers on one clear sheet.',
    set: 'mesh presentation',
    demo: { projectId: 'brass-gauge', step: 'passes' },
    guide: 'purposes-mesh',
  },
] as const satisfies readonly {
  readonly id: string
  readonly label: string
  readonly note: string
  readonly set: PassSetName
  readonly demo: { readonly projectId: string; readonly step: string }
  readonly guide: string
}[]
export type Purpose = (typeof PURPOSES)[number]
