// Makes the pictures of our recipes on the demo's models: `node scripts/recipe-pictures.mjs [RECIPE …]`.
import path from 'node:path'
import { bundle } from './bundle.mjs'
import { ensureInstalled, root } from './ensure-installed.mjs'

ensureInstalled()
const { ensureDemo } = await import('./start.mjs')
await ensureDemo()
await bundle('src/engine/node-worker.ts', 'node-worker')
const { makePictures } = await import(await bundle('demo/recipe-pictures.ts', 'recipe-pictures'))
const [only, folder] = [process.argv.slice(2), process.env.FOLDER ?? path.join(root, 'public', 'recipes')]
await makePictures(root, folder, only)
