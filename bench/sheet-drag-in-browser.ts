import { mkdtempSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import path from 'node:path'
import { writePng } from '@/core/formats/png'
import { insertNode } from '@/core/sheet/sheet-tree'
import { newProject } from '@/data/new-project'
import { writeProjectArchive } from '@/data/project-archive'
import { BenchPage } from '../tests/bench-page'
import { benchLayers, SIZE } from './reference/bench-sheet'

/** How long a card's opacity is dragged. Seconds. */
const SECONDS = 4

/** The bench sheet as a project's archive. */
async function archive(): Promise<Uint8Array> {
  const project = newProject('Bench')
  const { layers, pictures } = benchLayers()
  const [sheet] = project.sheets
  Object.assign(sheet, SIZE)
  const files = new Map<string, { name: string; bytes: Uint8Array }>()
  for (const [id, { width, height, pixels }] of Object.entries(pictures)) {
    const bytes = writePng(
      width,
      height,
      Uint8ClampedArray.from(pixels, (v) => 255 * v),
    )
    files.set(`f-${id}`, { name: `${id}.png`, bytes })
    project.pictures.push({ id, name: `${id}.png`, fileId: `f-${id}` })
  }
  const inGroups = new Set(
    layers.flatMap(({ content }) => (content.kind === 'group' ? content.children : [])),
  )
  for (const layer of layers) {
    if (inGroups.has(layer.id)) sheet.nodes[layer.id] = layer
    else insertNode(sheet, layer, { parent: null, index: Infinity })
  }
  return writeProjectArchive({ project, files, results: new Map() })
}

/** Dragging the opacity of layers of a sheet of twenty in the application: pictures a second, and what the page does meanwhile. */
export async function main(): Promise<void> {
  const folder = mkdtempSync(path.join(tmpdir(), 'relief-drag-'))
  const file = path.join(folder, 'bench.zip')
  writeFileSync(file, await archive())
  const page = await BenchPage.open(3420)
  try {
    const version = (await page.driver.getCapabilities()).get('browserVersion') as string
    console.log(`machine: ${cpus()[0].model}, ${cpus().length} cores, Chromium ${version}`)
    await page.driver.get(page.address)
    await (await page.css('[data-testid=archive-input]')).sendKeys(file)
    await page.css('.rack, [data-testid=project-name], .rail', 60_000)
    const here = await page.driver.getCurrentUrl()
    await page.driver.get(here.replace(/\/[a-z]+$/, '/sheet'))
    await page.css('[data-testid=card-l0]')
    await page.until('the proof stands', () =>
      page.driver.executeScript<boolean>(
        `const t = document.querySelector('[data-testid=proof-time]'); return !!t && t.textContent !== ''`,
      ),
    )
    await new Promise((resolve) => setTimeout(resolve, 6000))
    for (const [what, id] of [
      ['backmost of 20', 'l0'],
      ['in the front half', 'l15'],
    ]) {
      const card = await page.css(`[data-testid=card-${id}]`)
      await page.driver.executeScript('arguments[0].scrollIntoView()', card)
      const figures = await page.driver.executeAsyncScript<{
        pictures: number
        ticks: number
        milliseconds: number
        busy: number
        longest: number
        worked: number
        proof: string
      }>(
        `const [id, seconds, done] = arguments
         const edge = document.querySelector('[data-testid=card-' + id + '] .card-edge')
         const box = edge.getBoundingClientRect()
         const at = (share) => ({ clientX: box.left + share * box.width, clientY: box.top + 4, bubbles: true, pointerId: 1, buttons: 1, isPrimary: true })
         edge.setPointerCapture = () => undefined
         edge.hasPointerCapture = () => true
         let pictures = 0, ticks = 0, busy = 0, longest = 0; const times = []; const told = document.querySelector('[data-testid=proof-time]')
         const canvas = document.querySelector('canvas[aria-label=Proof]')
         const put = CanvasRenderingContext2D.prototype.putImageData
         CanvasRenderingContext2D.prototype.putImageData = function (...all) { if (this.canvas === canvas) { pictures++; times.push(Number(told.textContent)) }; return put.apply(this, all) }
         const observer = new PerformanceObserver((list) => list.getEntries().forEach((e) => { longest = Math.max(longest, e.duration) }))
         observer.observe({ type: 'longtask' })
         edge.dispatchEvent(new PointerEvent('pointerdown', at(0.2)))
         const started = performance.now()
         const step = () => {
           const now = performance.now()
           if (now - started > seconds * 1000) {
             edge.dispatchEvent(new PointerEvent('pointerup', at(0.5)))
             CanvasRenderingContext2D.prototype.putImageData = put
             setTimeout(() => { observer.disconnect(); done({ pictures, ticks, milliseconds: now - started, busy, longest, worked: times.sort((a, b) => a - b)[times.length >> 1], proof: canvas.width + ' × ' + canvas.height }) }, 1500)
             return
           }
           ticks++
           const before = performance.now()
           edge.dispatchEvent(new PointerEvent('pointermove', at(0.2 + 0.6 * Math.abs(Math.sin(now / 700)))))
           busy += performance.now() - before
           requestAnimationFrame(step)
         }
         requestAnimationFrame(step)`,
        id,
        SECONDS,
      )
      const { pictures, ticks, milliseconds, busy, longest, worked, proof } = figures
      console.log(
        `${what}: ${((1000 * pictures) / milliseconds).toFixed(1)} pictures a second of ${proof}, ${worked.toFixed(0)} ms each in the worker; ` +
          `${ticks} ticks, ${(busy / ticks).toFixed(1)} ms of the main thread each, longest task ${longest.toFixed(0)} ms`,
      )
    }
  } finally {
    await page.close()
  }
}
