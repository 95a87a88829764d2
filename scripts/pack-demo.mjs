// The demo's projects are kept unpacked (`demo/low-water/`, its models beside it in `demo/`), so that a change of one pass
// is a change of one file. This zips each to the archive that the application opens: `demo/low-water.zip`.
import { existsSync, readdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { root } from './ensure-installed.mjs'

const demo = path.join(root, 'demo')
const PROJECTS = ['low-water', 'brass-gauge']

/** An archive's entries as files on disk; null where one is missing or is not the real file. */
function pieces(folder) {
  const document = path.join(folder, 'project.json')
  if (!existsSync(document)) return null
  const project = JSON.parse(readFileSync(document, 'utf8'))
  const found = [['project.json', document]]
  for (const model of project.models)
    for (const file of model.source.files ?? [])
      found.push([`files/${file.fileId}/${file.name}`, path.join(demo, file.name)])
  // Channels, lines or both: which of them a pass has, what is there tells.
  for (const pass of project.passes) {
    if (!pass.rendered) continue
    const files = ['exr', 'ply'].map((ending) => `passes/${pass.rendered.resultId}.${ending}`)
    const there = files.filter((name) => existsSync(path.join(folder, name)))
    for (const name of there.length > 0 ? there : files.slice(0, 1))
      found.push([name, path.join(folder, name)])
  }
  const paint = path.join(folder, 'paint')
  if (existsSync(paint))
    for (const name of readdirSync(paint)) found.push([`paint/${name}`, path.join(paint, name)])
  const looks = path.join(folder, 'looks')
  if (existsSync(looks))
    for (const name of readdirSync(looks)) found.push([`looks/${name}`, path.join(looks, name)])
  return found.every(([, file]) => existsSync(file) && statSync(file).size > 200) ? found : null
}

/** @returns false when some of the demo must be rendered first. */
export async function packDemo() {
  for (const name of PROJECTS) if (!(await packProject(name))) return false
  return true
}

async function packProject(name) {
  const archive = path.join(demo, `${name}.zip`)
  const found = pieces(path.join(demo, name))
  if (!found) return false
  const newest = Math.max(...found.map(([, file]) => statSync(file).mtimeMs))
  if (existsSync(archive) && statSync(archive).mtimeMs > newest) return true
  const { zipSync } = await import('fflate')
  const level = (entry) => (entry.endsWith('.exr') ? 0 : 9)
  const entries = found.map(([entry, file]) => [entry, [readFileSync(file), { level: level(entry) }]])
  const partial = `${archive}.${process.pid}`
  writeFileSync(partial, zipSync(Object.fromEntries(entries)))
  renameSync(partial, archive)
  return true
}
