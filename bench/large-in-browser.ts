import { cpus } from 'node:os'
import path from 'node:path'
import { BenchPage } from '../tests/bench-page'
import { residentMb } from './reference/resident-memory'

const SIDE = Number(process.env.RELIEF_SIDE ?? 4096)
const QUALITY = process.env.RELIEF_QUALITY ?? 'draft'

/**
 * The tide kiosk at 4096 × 4096 with eight passes in the application: time, memory of the tab with its workers, long
 * tasks. RELIEF_QUALITY is draft, good or final; RELIEF_SIDE another size.
 */
export async function main(): Promise<void> {
  const page = await BenchPage.open()
  const demo = path.resolve('demo')
  try {
    console.log(`machine: ${cpus()[0].model}, ${cpus().length} cores; ${SIDE} × ${SIDE}, ${QUALITY}`)
    await page.driver.get(page.address)
    await page.click('[data-testid=new-project]')
    await (
      await page.css('[data-testid=model-input]')
    ).sendKeys(['tide-kiosk.obj', 'tide-kiosk.mtl'].map((name) => path.join(demo, name)).join('\n'))
    await page.css('.part-row', 120_000)
    await page.click('.rail a[href$="/shot"]')
    for (const label of ['Width', 'Height']) {
      const field = await page.xpath(`//aside//div[label="${label}"]//input[@inputmode="decimal"]`)
      await field.click()
      await field.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), String(SIDE), page.keys.ENTER)
    }
    await page.click('.rail a[href$="/passes"]')
    for (const kind of ['depth', 'normal']) {
      await page.click('[data-testid=add-pass]')
      await page.click(`[data-testid=add-pass-${kind}]`)
      await page.css(`[data-testid=pass-${kind}]`)
      await page.until(
        'the menu is gone',
        async () => (await page.driver.findElements({ css: '[role=menu]' })).length === 0,
      )
    }
    await page.driver.executeScript(
      `window.longTasks = []; new PerformanceObserver((l) => l.getEntries().forEach((e) => window.longTasks.push(e.duration))).observe({ type: 'longtask' })`,
    )
    let most = 0
    const start = performance.now()
    const watch = setInterval(() => {
      const now = residentMb()
      if (now > most + 100)
        console.log(`  ${((performance.now() - start) / 1000).toFixed(0)} s: ${now.toFixed(0)} MB`)
      most = Math.max(most, now)
    }, 1000)
    await page.click(`[data-testid=render-${QUALITY}]`)
    await page.until(
      'all eight are ready',
      async () => (await page.driver.findElements({ css: '.contact-cell[data-state=ready]' })).length === 8,
      12 * 3_600_000,
    )
    clearInterval(watch)
    const long = await page.driver.executeScript<number[]>('return window.longTasks')
    console.log(`eight passes: ${((performance.now() - start) / 1000).toFixed(0)} s by the clock`)
    console.log(`largest renderer process: ${most.toFixed(0)} MB resident`)
    console.log(`long tasks: ${long.length}, longest ${Math.round(Math.max(0, ...long))} ms`)
  } finally {
    await page.close()
  }
}
