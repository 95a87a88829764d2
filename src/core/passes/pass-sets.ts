import type { PassKindName } from './registry'

/** Passes that are wanted together for a kind of picture. */
export const PASS_SETS = [
  {
    name: 'illustration',
    label: 'Illustration',
    summary: 'Base, depth of form and ink: for a picture that ends painted.',
    kinds: ['clay', 'occlusion', 'cavity', 'contour', 'wireframe', 'id'],
  },
  {
    name: 'sculpt study',
    label: 'Sculpt study',
    summary: 'The form and nothing else: for reading and presenting a sculpt.',
    kinds: ['clay', 'occlusion', 'cavity', 'facing', 'thickness', 'normal'],
  },
  {
    name: 'mesh presentation',
    label: 'Mesh presentation',
    summary: 'How it is built: wires, topology, materials, ids.',
    kinds: ['clay', 'wireframe', 'lit', 'flat', 'id', 'occlusion'],
  },
  {
    name: 'overpaint',
    label: 'Overpaint',
    summary: 'A lit base with everything to mask and tint by.',
    kinds: ['lit', 'flat', 'stepped', 'shadow', 'occlusion', 'depth', 'normal', 'facing', 'id'],
  },
] as const satisfies readonly {
  readonly name: string
  readonly label: string
  readonly summary: string
  readonly kinds: readonly PassKindName[]
}[]
export type PassSetName = (typeof PASS_SETS)[number]['name']

export const passSet = (name: PassSetName) => PASS_SETS.find((set) => set.name === name) ?? PASS_SETS[0]
