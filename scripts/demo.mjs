// Makes the demo: models from the modelling script, and the project Low Water rendered from them. `models`, `project` and
// `sheets` (hung anew, nothing rendered) make one of these alone.
import path from 'node:path'
import { bundle } from './bundle.mjs'
import { ensureInstalled, root } from './ensure-installed.mjs'
import { packDemo } from './pack-demo.mjs'

ensureInstalled()
await bundle('src/engine/node-worker.ts', 'node-worker')
const { makeModels } = await import(await bundle('demo/make-demo.ts', 'make-demo'))
const only = process.argv[2]
const folder = path.join(root, 'demo')
if (only === undefined || only === 'models') await makeModels(folder)
if (only !== 'models') {
  const { makeLowWater, rehang } = await import(await bundle('demo/low-water.ts', 'low-water'))
  if (only === 'sheets') await rehang(folder)
  else await makeLowWater(folder)
  await packDemo()
}
