import { cpus } from 'node:os'
import { BenchPage } from '../tests/bench-page'

const LETTERS = 40
const SECONDS = 4

/**
 * The demo's poster in the application: from a letter that is typed to the page that shows it, and a title dragged through the
 * depth of the shot: pictures a second. The title bears ink bleed and worn edges, the whole page a wash of paper and grain.
 */
export async function main(): Promise<void> {
  const page = await BenchPage.open()
  try {
    const version = (await page.driver.getCapabilities()).get('browserVersion') as string
    console.log(`machine: ${cpus()[0].model}, ${cpus().length} cores, Chromium ${version}`)
    await page.driver.get(page.address)
    await page.css('.project-card', 60_000)
    await page.driver.get(`${page.address}/project/low-water/poster`)
    await page.css('.part', 60_000)
    for (const name of ['9 AUGUST', 'TIDE']) {
      await page.driver.sleep(8000)
      await chooseLayer(page, name)
      await page.click('[data-testid=edit-type]')
      await page.css('[data-testid=type-text]')
      await page.driver.sleep(2500)
      const { times, proof, longest } = await typed(page)
      times.sort((a, b) => a - b)
      const at = (share: number) => times[Math.floor(share * (times.length - 1))].toFixed(0)
      console.log(
        `a letter in ${name}, page ${proof}: shown after ${at(0.5)} ms in the middle, ${at(0.95)} of the 95th in a hundred; longest task of the page ${longest.toFixed(0)} ms`,
      )
      await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
    }
    await page.driver.get(`${page.address}/project/low-water/poster`)
    await page.css('.part', 60_000)
    await page.driver.sleep(8000)
    await chooseLayer(page, 'TIDE')
    await page.driver.sleep(3000)
    for (const time of ['first', 'second', 'third']) {
      const { pictures, moves, proof, longest } = await dragged(page)
      console.log(
        `TIDE through the depth of the shot for the ${time} time, page ${proof}: ${(pictures / SECONDS).toFixed(1)} pictures a second of ${(moves / SECONDS).toFixed(1)} changes; longest task of the page ${longest.toFixed(0)} ms`,
      )
      await page.driver.sleep(4000)
    }
  } finally {
    await page.close()
  }
}

const chooseLayer = (page: BenchPage, name: string) =>
  page.until(`${name} is chosen`, async () => {
    for (const back of await page.driver.findElements({ css: '[data-testid=to-page]' })) await back.click()
    for (const row of await page.driver.findElements({ css: '.page-list .row-name' }))
      if ((await row.getText()) === name) {
        await row.click()
        return true
      }
    return false
  })

/** Types letters, each when the one before it is seen. */
const typed = (page: BenchPage) =>
  page.driver.executeAsyncScript<{ times: number[]; proof: string; longest: number }>(
    `const [count, done] = arguments
     const field = document.querySelector('[data-testid=type-text]')
     const host = document.querySelector('[data-testid=proof]'); const canvas = host.querySelector('canvas')
     const set = Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, 'value').set
     const text = field.value
     let longest = 0; const times = []
     const observer = new PerformanceObserver((list) => list.getEntries().forEach((e) => { longest = Math.max(longest, e.duration) }))
     observer.observe({ type: 'longtask' })
     const letter = (i) => {
       if (i === count) { observer.disconnect(); done({ times, longest, proof: canvas.width + ' × ' + canvas.height }); return }
       const began = performance.now()
       const told = new MutationObserver(() => { told.disconnect(); times.push(performance.now() - began); setTimeout(() => letter(i + 1), 120) })
       told.observe(host, { attributeFilter: ['data-shown'] })
       set.call(field, text + (i % 2 === 0 ? 'E' : ''))
       field.dispatchEvent(new Event('input', { bubbles: true }))
     }
     letter(0)`,
    LETTERS,
  )

/** Drags the peg to and fro among the parts. */
const dragged = (page: BenchPage) =>
  page.driver.executeAsyncScript<{ pictures: number; moves: number; proof: string; longest: number }>(
    `const [seconds, done] = arguments
     const rail = document.querySelector('.depth-rail .parts'); rail.setPointerCapture = () => undefined; rail.hasPointerCapture = () => true
     const host = document.querySelector('[data-testid=proof]'); const canvas = host.querySelector('canvas')
     const box = rail.getBoundingClientRect()
     const at = (x) => ({ clientX: box.left + x, clientY: box.top + 60, bubbles: true, cancelable: true, button: 0, buttons: 1, pointerId: 1, isPrimary: true })
     let pictures = 0, moves = 0, longest = 0, last = -1
     const told = new MutationObserver(() => { pictures++ })
     told.observe(host, { attributeFilter: ['data-shown'] })
     const observer = new PerformanceObserver((list) => list.getEntries().forEach((e) => { longest = Math.max(longest, e.duration) }))
     observer.observe({ type: 'longtask' })
     rail.dispatchEvent(new PointerEvent('pointerdown', at(300)))
     const started = performance.now()
     const step = () => {
       const now = performance.now()
       if (now - started > seconds * 1000) {
         rail.dispatchEvent(new PointerEvent('pointerup', at(300)))
         told.disconnect(); observer.disconnect()
         done({ pictures, moves, longest, proof: canvas.width + ' × ' + canvas.height }); return
       }
       // A part a picture of the screen, to and fro.
       const phase = Math.floor((now - started) / 16) % 40
       const x = 46 + 64 * (phase < 20 ? phase : 40 - phase)
       if (x !== last) moves++
       last = x
       rail.dispatchEvent(new PointerEvent('pointermove', at(x)))
       requestAnimationFrame(step)
     }
     requestAnimationFrame(step)`,
    SECONDS,
  )
