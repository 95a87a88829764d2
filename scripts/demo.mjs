// Makes the demo: models from the modelling script, and the project Low Water rendered from them.
import path from 'node:path'
import { bundle } from './bundle.mjs'
import { ensureInstalled, root } from './ensure-installed.mjs'
import { packDemo } from './pack-demo.mjs'

ensureInstalled()
await bundle('src/engine/node-worker.ts', 'node-worker')
const { makeModels } = await import(await bundle('demo/make-demo.ts', 'make-demo'))
const only = process.argv[2]
const folder = path.join(root, 'demo')
if (only !== 'project') await makeModels(folder)
if (only !== 'models') {
  const { makeLowWater } = await import(await bundle('demo/low-water.ts', 'low-water'))
  await makeLowWater(folder)
  await packDemo()
}
