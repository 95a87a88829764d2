import { mkdtempSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import path from 'node:path'
import { BenchPage } from '../tests/bench-page'
import { ballFile } from './import'

interface LongTask {
  readonly start: number
  readonly duration: number
}

/**
 * Two million triangles through the application itself: when the model is in the tree, when its form is seen, when all
 * of it is drawn, and which
 * tasks held the page up meanwhile.
 */
export async function main(): Promise<void> {
  const folder = mkdtempSync(path.join(tmpdir(), 'relief-import-'))
  const page = await BenchPage.open()
  try {
    const version = (await page.driver.getCapabilities()).get('browserVersion') as string
    console.log(`machine: ${cpus()[0].model}, Chromium ${version}`)
    for (const format of ['GLB', 'STL, bytes'] as const) {
      const { name, bytes } = ballFile(format)
      const file = path.join(folder, name)
      writeFileSync(file, bytes)
      await page.driver.get(page.address)
      await page.click('[data-testid=new-project]')
      const input = await page.css('[data-testid=model-input]')
      await page.driver.executeScript(
        `window.longTasks = [];
         new PerformanceObserver((list) => list.getEntries().forEach((e) =>
           window.longTasks.push({ start: e.startTime, duration: e.duration }))).observe({ type: 'longtask' })
         window.seen = { given: 0, tree: 0, seen: 0, drawn: 0 }
         document.querySelector('[data-testid=model-input]').addEventListener('change', () => {
           window.seen.given = performance.now()
           const look = () => {
             if (!window.seen.tree && document.querySelector('.part-row')) window.seen.tree = performance.now()
             const canvas = document.querySelector('canvas[data-waiting]')
             if (!window.seen.seen && canvas && canvas.dataset.seen === 'true') window.seen.seen = performance.now()
             if (window.seen.tree && canvas && canvas.dataset.drawn === 'true') window.seen.drawn = performance.now()
             else requestAnimationFrame(look)
           }
           look()
         }, { once: true, capture: true })`,
      )
      await input.sendKeys(file)
      await page.until(
        'all of it is drawn',
        () => page.driver.executeScript<boolean>('return window.seen.drawn > 0'),
        180_000,
      )
      const { given, tree, seen, drawn } =
        await page.driver.executeScript<Record<'given' | 'tree' | 'seen' | 'drawn', number>>(
          'return window.seen',
        )
      const tasks = await page.driver.executeScript<LongTask[]>('return window.longTasks')
      const during = tasks.filter(({ start }) => start >= given)
      console.log(
        `${format}: in the tree after ${((tree - given) / 1000).toFixed(1)} s, seen after ${((seen - given) / 1000).toFixed(1)} s, all of it drawn after ${((drawn - given) / 1000).toFixed(1)} s; ` +
          `long tasks ${during.map(({ start, duration }) => `${Math.round(duration)} at ${((start - given) / 1000).toFixed(1)}`).join(', ') || 'none'}`,
      )
    }
  } finally {
    await page.close()
  }
}
