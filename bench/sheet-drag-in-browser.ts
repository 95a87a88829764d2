import { mkdtempSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import path from 'node:path'
import { testSheet } from '@/core/sheet/testing/sheets'
import { BenchPage } from '../tests/bench-page'
import { benchLayers, manyLayers, sheetArchive, SIZE } from './reference/bench-sheet'

/** How long a card's opacity is dragged. Seconds. */
const SECONDS = 4
/** Figures are medians of so many rounds. */
const ROUNDS = 3

/**
 * Dragging the opacity of layers of a sheet in the application: pictures a second, and what the page does meanwhile. Of twenty
 * layers; of sixty with RELIEF_LAYERS=60.
 */
export async function main(): Promise<void> {
  const isMany = process.env.RELIEF_LAYERS === '60'
  const folder = mkdtempSync(path.join(tmpdir(), 'relief-drag-'))
  const file = path.join(folder, 'bench.zip')
  const { layers, pictures } = isMany ? manyLayers() : benchLayers()
  writeFileSync(file, await sheetArchive(testSheet(SIZE, layers), pictures))
  const page = await BenchPage.open()
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
        `const t = document.querySelector('[data-testid=proof]'); return !!t && t.dataset.shown !== undefined`,
      ),
    )
    await new Promise((resolve) => setTimeout(resolve, 6000))
    for (const [what, id] of [
      [`backmost of ${layers.length}`, 'l0'],
      ['in the front half', 'l15'],
    ]) {
      const card = await page.css(`[data-testid=card-${id}]`)
      await page.driver.executeScript('arguments[0].scrollIntoView()', card)
      const rounds: Round[] = []
      for (let i = 0; i < ROUNDS; i++) rounds.push(await round(page, id, false))
      const median = (of: (round: Round) => number) => rounds.map(of).sort((a, b) => a - b)[ROUNDS >> 1]
      // Whether the screen shows what the worker says it does: to look costs time, so in a round of its own.
      const looked = await round(page, id, true)
      console.log(
        `${what}: ${median((r) => r.pictures).toFixed(1)} pictures a second of ${looked.proof}, ` +
          `${median((r) => r.worked).toFixed(0)} ms each in the worker (${((100 * looked.seen) / looked.pictures).toFixed(0)} % of them reach the screen); ` +
          `${median((r) => r.ticks).toFixed(0)} ticks a second, script, styles and layout of the main thread ${median((r) => r.busy).toFixed(1)} ms each, ` +
          `longest task ${median((r) => r.longest).toFixed(0)} ms`,
      )
    }
  } finally {
    await page.close()
  }
}

/** Figures of one round, by the second or in milliseconds. */
interface Round {
  readonly pictures: number
  readonly seen: number
  readonly ticks: number
  readonly busy: number
  readonly longest: number
  readonly worked: number
  readonly proof: string
}

/** What the browser tells its developers; the driver's types do not say so. */
interface Developer {
  sendDevToolsCommand(name: string, of: object): Promise<void>
  sendAndGetDevToolsCommand(
    name: string,
    of: object,
  ): Promise<{ metrics: readonly { name: string; value: number }[] }>
}

/** Seconds that the main thread has spent in scripts, styles and layout so far. */
async function busySeconds(page: BenchPage): Promise<number> {
  const driver = page.driver as unknown as Developer
  const { metrics } = await driver.sendAndGetDevToolsCommand('Performance.getMetrics', {})
  return metrics
    .filter(({ name }) => ['ScriptDuration', 'LayoutDuration', 'RecalcStyleDuration'].includes(name))
    .reduce((sum, { value }) => sum + value, 0)
}

/** Drags the edge of a card for a while. @param looks reads the proof's canvas with each frame. */
async function round(page: BenchPage, id: string, looks: boolean): Promise<Round> {
  const driver = page.driver as unknown as Developer
  await driver.sendDevToolsCommand('Performance.enable', {})
  const before = await busySeconds(page)
  const { pictures, seen, ticks, milliseconds, longest, worked, proof } =
    await page.driver.executeAsyncScript<{
      pictures: number
      seen: number
      ticks: number
      milliseconds: number
      longest: number
      worked: number
      proof: string
    }>(
      `const [id, seconds, looks, done] = arguments
       const edge = document.querySelector('[data-testid=card-' + id + '] .card-edge')
       const box = edge.getBoundingClientRect()
       const at = (share) => ({ clientX: box.left + share * box.width, clientY: box.top + 4, bubbles: true, pointerId: 1, buttons: 1, isPrimary: true })
       edge.setPointerCapture = () => undefined
       edge.hasPointerCapture = () => true
       let pictures = 0, seen = 0, ticks = 0, longest = 0; const times = []
       const host = document.querySelector('[data-testid=proof]'); const canvas = host.querySelector('canvas')
       // A picture counts when the worker says that it is whole.
       const told = new MutationObserver(() => { pictures++; times.push(Number(host.dataset.milliseconds)) })
       told.observe(host, { attributeFilter: ['data-shown'] })
       const copy = new OffscreenCanvas(16, 10).getContext('2d', { willReadFrequently: true }); let last = ''
       copy.imageSmoothingEnabled = false
       const observer = new PerformanceObserver((list) => list.getEntries().forEach((e) => { longest = Math.max(longest, e.duration) }))
       observer.observe({ type: 'longtask' })
       edge.dispatchEvent(new PointerEvent('pointerdown', at(0.2)))
       const started = performance.now()
       const step = () => {
         const now = performance.now()
         if (now - started > seconds * 1000) {
           edge.dispatchEvent(new PointerEvent('pointerup', at(0.5)))
           told.disconnect()
           setTimeout(() => { observer.disconnect(); done({ pictures, seen, ticks, milliseconds: now - started, longest, worked: times.sort((a, b) => a - b)[times.length >> 1], proof: canvas.width + ' × ' + canvas.height }) }, 1500)
           return
         }
         ticks++
         if (looks) {
           copy.drawImage(canvas, 0, 0, 16, 10)
           const pixels = copy.getImageData(0, 0, 16, 10).data.join()
           if (pixels !== last) seen++
           last = pixels
         }
         edge.dispatchEvent(new PointerEvent('pointermove', at(0.2 + 0.6 * Math.abs(Math.sin(now / 700)))))
         requestAnimationFrame(step)
       }
       requestAnimationFrame(step)`,
      id,
      SECONDS,
      looks,
    )
  const busy = (1000 * ((await busySeconds(page)) - before)) / ticks
  const seconds = milliseconds / 1000
  return {
    pictures: pictures / seconds,
    seen: seen / seconds,
    ticks: ticks / seconds,
    busy,
    longest,
    worked,
    proof,
  }
}
