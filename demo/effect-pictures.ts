import { mkdir, writeFile } from 'node:fs/promises'
import path from 'node:path'
import { encode } from 'jpeg-js'
import { EFFECT_GROUPS } from '@/core/effects/effect-kind'
import { EFFECTS, type RegisteredEffect } from '@/core/effects/registry'
import { paramControls, type ParamValues } from '@/core/params'
import { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import { wholePicture } from '@/core/sheet/evaluate/picture-rows'
import { planSheet } from '@/core/sheet/evaluate/plan-sheet'
import { SheetEvaluator } from '@/core/sheet/evaluate/sheet-evaluator'
import { newEffect, newLayer, wash } from '@/core/sheet/new-layer'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { loadProject } from '../cli/load-sheet'

const SIZE = { width: 480, height: 300 }
/** What shows an effect better than its beginning does, where that changes nothing or needs something. */
const SHOWN: Readonly<Record<string, ParamValues>> = {
  levels: { black: 0.12, white: 0.82, gamma: 1.15 },
  displace: { layer: 'layer-clay', amount: 30 },
}

/** Writes docs/EFFECTS.md with a picture of each effect as a wash over the demo. @param root of the repository. */
export async function main(root: string): Promise<void> {
  const { sheet, store } = await loadProject(path.join(root, 'demo', 'low-water.zip'), true)
  const folder = path.join(root, 'docs', 'effects')
  await mkdir(folder, { recursive: true })
  const tiles = new KeptTiles()
  const evaluator = new SheetEvaluator(tiles, store.resources)
  for (const { kind } of EFFECTS) {
    const made = newEffect('shown', kind)
    const effect = { ...made, params: { ...made.params, ...SHOWN[kind] } }
    const node = newLayer({ id: 'shown', name: 'Shown', content: wash(), effects: [effect] })
    const own: Sheet = {
      ...sheet,
      roots: [...sheet.roots, node.id],
      nodes: { ...sheet.nodes, [node.id]: node },
    }
    evaluator.begin(planSheet(own, { size: SIZE }, store.resources))
    const data = wholePicture(evaluator, SIZE, 'bytes')
    await writeFile(path.join(folder, `${kind}.jpg`), encode({ ...SIZE, data }, 86).data)
    tiles.tick()
    tiles.shrinkTo(192 * 2 ** 20)
  }
  await writeFile(path.join(root, 'docs', 'EFFECTS.md'), page())
}

const page = (): string =>
  [
    '# The effects',
    '',
    'Every picture here is the demo, _Low Water_, with the effect as a wash over all of it, as it begins. `node scripts/effect-pictures.mjs`',
    'writes this page. Lengths are in pixels of the sheet, so that an effect looks the same at every size.',
    ...EFFECT_GROUPS.flatMap((group) => [
      '',
      `## ${group}`,
      ...EFFECTS.filter((effect) => effect.group === group).flatMap(told),
    ]),
    '',
  ].join('\n')

function told({ kind, label, summary, schema }: RegisteredEffect): string[] {
  const names = paramControls(schema).map((control) => {
    const unit = control.control === 'number' && control.unit !== '' ? ` (${control.unit})` : ''
    return `_${control.label}_${unit}`
  })
  return [
    '',
    `### ${label}`,
    '',
    `![${label}](effects/${kind}.jpg)`,
    '',
    `${summary} ${names.join(', ')}`.trim(),
  ]
}
