import { extension } from '@/core/formats/file-bundle'
import { writeGlb } from '@/core/formats/write-glb'
import { parseOptions } from './arguments'
import { loadScene } from './load-input'
import { UsageError } from './usage-error'
import { withRoles } from './view'
import { refuseExisting, withFolders, writeWhole } from './write-file'

export const sceneOptions = {
  out: { type: 'string' },
  only: { type: 'string' },
  overwrite: { type: 'boolean' },
} as const

/** `relief scene`: models as they stand in a project, with groups, copies and materials, as one GLB. */
export async function scene(argv: readonly string[]): Promise<void> {
  const { values, positionals: inputs } = parseOptions(argv, sceneOptions)
  const { out } = values
  if (inputs.length === 0 || !out)
    throw new UsageError('relief scene MODEL…|PROJECT --out FILE.glb [--only PART,…]')
  if (extension(out) !== 'glb') throw new UsageError(`--out takes a file that ends in .glb (got "${out}")`)
  await refuseExisting(out, values.overwrite ?? false)
  const loaded = await loadScene(inputs)
  const models = withRoles(loaded.models, values)
  await withFolders([out], async () => {
    await writeWhole(out, await writeGlb({ name: loaded.project?.name ?? inputs[0], models }))
  })
}
