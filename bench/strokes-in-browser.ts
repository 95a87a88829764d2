import { mkdtempSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import path from 'node:path'
import { testLayer, testSheet } from '@/core/sheet/testing/sheets'
import { BenchPage } from '../tests/bench-page'
import { benchLayers, sheetArchive, withEffects } from './reference/bench-sheet'

const SHEET = { width: 4096, height: 4096 }
/** Moments of a pen whose way to the proof is measured, one after the other. */
const MOMENTS = 150
/** What a quick pen tells in a second, and for how long. */
const RATE = 240
const SECONDS = 4

/**
 * A pen on a painted layer of 4096² under twenty layers with six effects, in the application: from an event of the pen to the
 * changed proof, as the worker says that it stands.
 */
export async function main(): Promise<void> {
  const folder = mkdtempSync(path.join(tmpdir(), 'relief-strokes-'))
  const file = path.join(folder, 'bench.zip')
  const { layers, pictures } = benchLayers()
  const content = { kind: 'painted', version: 1, ...SHEET, tiles: {} } as const
  const sheet = withEffects(testSheet(SHEET, [testLayer('paint', { content }), ...layers]), 6)
  writeFileSync(file, await sheetArchive(sheet, pictures))
  const page = await BenchPage.open()
  try {
    const version = (await page.driver.getCapabilities()).get('browserVersion') as string
    console.log(`machine: ${cpus()[0].model}, ${cpus().length} cores, Chromium ${version}`)
    await page.driver.get(page.address)
    await (await page.css('[data-testid=archive-input]')).sendKeys(file)
    await page.css('.rack, [data-testid=project-name], .rail', 60_000)
    const here = await page.driver.getCurrentUrl()
    await page.driver.get(here.replace(/\/[a-z]+$/, '/sheet'))
    const card = await page.css('[data-testid=card-paint]')
    await page.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', card)
    await card.click()
    await page.chord(page.keys.SHIFT, 'b')
    await page.css('[data-testid=paint-overlay]')
    await page.driver.sleep(8000)
    for (const [tip, size] of [
      ['chalk', 200],
      ['chalk', 1000],
    ] as const) {
      await page.click(`[data-testid=tip-${tip}]`)
      const field = await page.xpath('//label[text()="Size"]/following::input[contains(@class,"scrub")][1]')
      await field.sendKeys(page.keys.CONTROL, 'a')
      await field.sendKeys(String(size), page.keys.ENTER)
      await page.driver.sleep(2500)
      const { latencies, shows, proof, longest, after } = await measured(page)
      const at = (share: number) => latencies[Math.floor(share * (latencies.length - 1))].toFixed(0)
      console.log(
        `${tip}, ${size} px on ${SHEET.width}², proof ${proof}: from pen to proof ${at(0.5)} ms in the middle, ${at(0.95)} of the 95th in a hundred, ${at(1)} at most (of that the picture ${shows[Math.floor(shows.length / 2)].toFixed(0)} ms); longest task of the page ${longest.toFixed(0)} ms while the pen is down, ${after.toFixed(0)} after`,
      )
      await page.driver.sleep(3000)
      const { sent, heard, pictures, busiest } = await rate(page)
      console.log(
        `${tip}, ${size} px, ${RATE} events a second for ${SECONDS} s: ${heard} of ${sent} points painted, ${(pictures / SECONDS).toFixed(0)} pictures a second, longest task ${busiest.toFixed(0)} ms`,
      )
      await page.driver.sleep(4000)
    }
  } finally {
    await page.close()
  }
}

const measured = (
  page: BenchPage,
): Promise<{
  readonly latencies: number[]
  readonly shows: number[]
  readonly proof: string
  readonly longest: number
  readonly after: number
}> =>
  page.driver.executeAsyncScript(
    `const [count, done] = arguments
     const overlay = document.querySelector('[data-testid=paint-overlay]'); const box = overlay.getBoundingClientRect()
     overlay.setPointerCapture = () => undefined
     const host = document.querySelector('[data-testid=proof]'); const canvas = host.querySelector('canvas')
     const event = (type, i) => new PointerEvent(type, { bubbles: true, cancelable: true, pointerId: 7, pointerType: 'pen', isPrimary: true, button: type === 'pointermove' ? -1 : 0, buttons: 1,
       pressure: 0.6, clientX: box.left + box.width * (0.5 + 0.36 * Math.cos(i / 12)), clientY: box.top + box.height * (0.5 + 0.36 * Math.sin(1.7 * i / 12)) })
     let longest = 0, after = 0, up = Infinity; const latencies = [], shows = []
     const tasks = new PerformanceObserver((list) => list.getEntries().forEach((e) => { if (e.startTime + e.duration < up) longest = Math.max(longest, e.duration); else after = Math.max(after, e.duration) }))
     tasks.observe({ type: 'longtask' })
     overlay.dispatchEvent(event('pointerdown', 0))
     let i = 0, sent = 0
     const next = () => {
       if (++i > count) {
         up = performance.now(); overlay.dispatchEvent(event('pointerup', i)); told.disconnect()
         setTimeout(() => { tasks.disconnect(); done({ latencies: latencies.slice(10).sort((a, b) => a - b), shows: shows.slice(10).sort((a, b) => a - b), proof: canvas.width + ' × ' + canvas.height, longest, after }) }, 1500)
         return
       }
       sent = performance.now()
       overlay.dispatchEvent(event('pointermove', i))
     }
     const told = new MutationObserver(() => { latencies.push(performance.now() - sent); shows.push(Number(host.dataset.milliseconds)); setTimeout(next, 4) })
     told.observe(host, { attributeFilter: ['data-shown'] })
     setTimeout(next, 800)`,
    MOMENTS,
  )

/** Events as a pen sends them, by the clock: how many of them are painted, and how often the proof is shown meanwhile. */
const rate = (
  page: BenchPage,
): Promise<{
  readonly sent: number
  readonly heard: number
  readonly pictures: number
  readonly busiest: number
}> =>
  page.driver.executeAsyncScript(
    `const [rate, seconds, done] = arguments
     const overlay = document.querySelector('[data-testid=paint-overlay]'); const box = overlay.getBoundingClientRect()
     overlay.setPointerCapture = () => undefined
     const host = document.querySelector('[data-testid=proof]')
     const event = (type, i) => new PointerEvent(type, { bubbles: true, cancelable: true, pointerId: 7, pointerType: 'pen', isPrimary: true, button: type === 'pointermove' ? -1 : 0, buttons: 1,
       pressure: 0.6, clientX: box.left + box.width * (0.5 + 0.36 * Math.cos(i / 190)), clientY: box.top + box.height * (0.5 + 0.36 * Math.sin(1.7 * i / 190)) })
     let busiest = 0, up = Infinity
     const tasks = new PerformanceObserver((list) => list.getEntries().forEach((e) => { if (e.startTime + e.duration < up) busiest = Math.max(busiest, e.duration) }))
     tasks.observe({ type: 'longtask' })
     const before = Number(host.dataset.shown)
     overlay.dispatchEvent(event('pointerdown', 0))
     const began = performance.now(); let i = 0
     const channel = new MessageChannel()
     channel.port1.onmessage = () => {
       const due = Math.min(rate * seconds, Math.floor((performance.now() - began) * rate / 1000))
       while (i < due) overlay.dispatchEvent(event('pointermove', ++i))
       if (i < rate * seconds) { setTimeout(() => channel.port2.postMessage(null), 2); return }
       up = performance.now()
       const pictures = Number(host.dataset.shown) - before
       setTimeout(() => {
         const noted = JSON.parse(localStorage.getItem('muted-relief stroke'))?.strokes[0]
         overlay.dispatchEvent(event('pointerup', i))
         setTimeout(() => { tasks.disconnect(); done({ sent: i + 1, heard: noted ? noted.numbers.length / 7 : 0, pictures, busiest }) }, 1500)
       }, 400)
     }
     channel.port2.postMessage(null)`,
    RATE,
    SECONDS,
  )
