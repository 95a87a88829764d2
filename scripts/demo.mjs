// Makes the demo: models from the modelling script, and the projects Low Water and The Brass Gauge rendered from them. `models`,
// `project`, `turntable` and `sheets` (hung anew, nothing rendered) make one of these alone, `looks` the small pictures of its
// posters.
import path from 'node:path'
import { bundle, bundleCommand } from './bundle.mjs'
import { ensureInstalled, root } from './ensure-installed.mjs'
import { packDemo } from './pack-demo.mjs'

ensureInstalled()
await bundle('src/engine/node-worker.ts', 'node-worker')
const { makeModels } = await import(await bundle('demo/make-demo.ts', 'make-demo'))
const only = process.argv[2]
const folder = path.join(root, 'demo')
if (only === undefined || only === 'models') await makeModels(folder)
if (only !== 'models' && only !== 'looks') {
  const { makeLowWater, rehang } = await import(await bundle('demo/low-water.ts', 'low-water'))
  const { makeBrassGauge, rehangBrassGauge } = await import(
    await bundle('demo/brass-gauge.ts', 'brass-gauge')
  )
  if (only === 'sheets') {
    await rehang(folder)
    await rehangBrassGauge(folder)
  } else {
    if (only !== 'turntable') await makeLowWater(folder)
    await makeBrassGauge(folder)
  }
  await packDemo()
}

// How its posters look on the start page.
if (only === undefined || only === 'project' || only === 'looks') {
  const { main } = await import((await bundleCommand()).commandUrl)
  const { posterLooks } = await import(await bundle('demo/poster-looks.ts', 'poster-looks'))
  await posterLooks(folder, main)
  await packDemo()
}
