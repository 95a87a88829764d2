import { mkdtempSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import path from 'node:path'
import { BenchPage } from '../tests/bench-page'
import { dentedBall } from './dented-ball'

/** A million triangles through the application itself: read, six passes as drafts; long tasks and memory of the tab. */
export async function main(): Promise<void> {
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'relief-million-')), 'ball.obj')
  writeFileSync(file, dentedBall())
  const page = await BenchPage.open()
  const lap = () => {
    const seconds = ((performance.now() - start) / 1000).toFixed(1)
    start = performance.now()
    return seconds
  }
  const longTasks = async () => {
    const all = await page.driver.executeScript<number[]>(
      'const all = window.longTasks; window.longTasks = []; return all',
    )
    return `${all.length} long tasks, longest ${Math.round(Math.max(0, ...all))} ms`
  }
  let start = performance.now()
  try {
    const version = (await page.driver.getCapabilities()).get('browserVersion') as string
    console.log(`machine: ${cpus()[0].model}, Chromium ${version}`)
    await page.driver.get(page.address)
    await page.click('[data-testid=new-project]')
    const input = await page.css('[data-testid=model-input]')
    await page.driver.executeScript(
      `window.longTasks = [];
       new PerformanceObserver((l) => l.getEntries().forEach((e) => window.longTasks.push(e.duration))).observe({ type: 'longtask' })`,
    )
    lap()
    await input.sendKeys(file)
    await page.css('.part-row', 120_000)
    console.log(`read: ${lap()} s; ${await longTasks()}`)
    await page.click('.rail a[href$="/passes"]')
    await page.click('[data-testid=render-draft]')
    await page.until(
      'the first pixels come',
      () =>
        page.driver.executeScript<boolean>(
          `const c = document.querySelector('[data-testid=pass-clay] canvas');
           return c.getContext('2d').getImageData(0, 0, c.width, c.height).data.some((v, i) => i % 4 === 3 && v > 0)`,
        ),
      120_000,
    )
    console.log(`first pixels: ${lap()} s after the press`)
    await page.until(
      'all six are ready',
      async () => (await page.driver.findElements({ css: '.contact-cell[data-state=ready]' })).length === 6,
      900_000,
    )
    console.log(`six passes, draft, 1280×800: ${lap()} s more; ${await longTasks()}`)
    const bytes = await page.driver.executeAsyncScript<number>(
      `const done = arguments[arguments.length - 1];
       performance.measureUserAgentSpecificMemory().then((m) => done(m.bytes), () => done(0))`,
    )
    console.log(`memory of the tab and its workers: ${(bytes / 1e6).toFixed(0)} MB`)
  } finally {
    await page.close()
  }
}
