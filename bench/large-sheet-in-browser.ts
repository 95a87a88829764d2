import { mkdtempSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import path from 'node:path'
import { BenchPage } from '../tests/bench-page'
import { residentMb } from './reference/resident-memory'
import { largeSheet, sheetArchive } from './reference/bench-sheet'

/**
 * A sheet of thirty layers, eight with masks, exported to 16-bit PNG from the application: seconds, memory of the tab, and how
 * soon a cancel is over. RELIEF_SIDE is its side, or its width and height as 16384x10240.
 */
export async function main(): Promise<void> {
  const [width, height] = (process.env.RELIEF_SIDE ?? '4096').split('x').map(Number)
  const { sheet, pictures } = largeSheet({ width, height: height ?? width })
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'relief-large-')), 'bench.zip')
  writeFileSync(file, await sheetArchive(sheet, pictures))
  const page = await BenchPage.open()
  try {
    console.log(`machine: ${cpus()[0].model}, ${cpus().length} cores; ${sheet.width} × ${sheet.height}`)
    await page.driver.get(page.address)
    await (await page.css('[data-testid=archive-input]')).sendKeys(file)
    await page.css('.rail', 120_000)
    const here = await page.driver.getCurrentUrl()
    await page.driver.get(here.replace(/\/[a-z]+$/, '/export'))
    await page.css('canvas[aria-label="What will be exported"]', 120_000)
    await page.driver.executeScript(
      `const select = document.querySelector('#format')
       Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(select, 'png16')
       select.dispatchEvent(new Event('change', { bubbles: true }))`,
    )
    const told = () =>
      page.driver.executeScript<string>(
        `return document.querySelector('[data-testid=export-told]')?.textContent ?? ''`,
      )
    // 1. Begun, and cancelled in the middle.
    await page.click('[data-testid=export-sheet]')
    await page.until(
      'it is under way',
      async () => /, [3-9]\d? %|, 1\d %/.test(await page.bodyText()),
      300_000,
    )
    const cancelMs = await page.driver.executeAsyncScript<number>(
      `const done = arguments[arguments.length - 1]
       const button = [...document.querySelectorAll('button')].find((b) => b.textContent === 'Cancel')
       const started = performance.now()
       new MutationObserver((_, observer) => {
         if (!document.querySelector('[data-testid=export-told]')) return
         observer.disconnect()
         done(performance.now() - started)
       }).observe(document.body, { subtree: true, childList: true })
       button.click()`,
    )
    console.log(`cancel: ${cancelMs.toFixed(0)} ms`)
    // 2. The whole of it.
    const before = residentMb()
    let most = before
    const started = Date.now()
    await page.click('[data-testid=export-sheet]')
    await page.until(
      'it is written',
      async () => {
        most = Math.max(most, residentMb())
        return /is with your downloads/.test(await told())
      },
      900_000,
    )
    const seconds = (Date.now() - started) / 1000
    console.log(
      `${Object.keys(sheet.nodes).length} nodes: ${seconds.toFixed(1)} s, ${most.toFixed(0)} MB resident at most in the tab and its workers (${before.toFixed(0)} MB before)`,
    )
  } finally {
    await page.close()
  }
}
