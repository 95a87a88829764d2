import { cpus } from 'node:os'
import { BenchPage } from '../tests/bench-page'

const RUNS = 5
const SECONDS = 4

/**
 * The demo's poster shown on paper: from the press to the coarse picture and to the fine one, the median of several, each on
 * another stand; and looked at from elsewhere by a hand: pictures a second. What the coarse picture saves is told by the fine one,
 * which is all that would be seen without it.
 */
export async function main(): Promise<void> {
  const page = await BenchPage.open()
  try {
    const version = (await page.driver.getCapabilities()).get('browserVersion') as string
    console.log(`machine: ${cpus()[0].model}, ${cpus().length} cores, Chromium ${version}`)
    await page.driver.get(page.address)
    await page.css('.project-card', 60_000)
    const [first, fine]: [number[], number[]] = [[], []]
    for (let run = 0; run < RUNS; run++) {
      // A tab of its own each time: nothing is kept from the one before.
      await page.driver.get(`${page.address}/project/low-water/poster`)
      await page.css('.series .format:not(.mockup)', 60_000)
      await page.click('.series .format:not(.mockup)')
      await page.css('.part', 60_000)
      await page.driver.sleep(6000)
      const times = await page.driver.executeAsyncScript<{ draft: number; whole: number }>(
        `const done = arguments[0]
         const began = performance.now()
         document.querySelector('[data-testid=add-mockup]').click()
         const look = () => {
           const host = document.querySelector('[data-testid=proof]')
           if (!document.querySelector('[data-testid=look-around]') || !host) { requestAnimationFrame(look); return }
           let draft = null
           const told = new MutationObserver(() => {
             const now = performance.now() - began
             if (draft === null) { draft = now; return }
             told.disconnect()
             done({ draft, whole: now })
           })
           told.observe(host, { attributeFilter: ['data-shown'] })
         }
         look()`,
      )
      first.push(times.draft)
      fine.push(times.whole)
      if (run < RUNS - 1) {
        await page.click('[data-testid=remove-mockup]')
        await page.saved()
      }
    }
    const median = (list: number[]) => [...list].sort((a, b) => a - b)[list.length >> 1] / 1000
    console.log(
      `a mock-up: first seen after ${median(first).toFixed(2)} s, fine after ${median(fine).toFixed(2)} s, medians of ${RUNS} (${first.map((v) => (v / 1000).toFixed(2)).join(', ')})`,
    )
    await page.driver.sleep(3000)
    const { pictures, moves } = await turned(page)
    console.log(
      `looked at from elsewhere by a hand: ${(pictures / SECONDS).toFixed(1)} pictures a second of ${(moves / SECONDS).toFixed(1)} changes`,
    )
  } finally {
    await page.close()
  }
}

/** Drags the mock-up to and fro. */
const turned = (page: BenchPage) =>
  page.driver.executeAsyncScript<{ pictures: number; moves: number }>(
    `const [seconds, done] = arguments
     const around = document.querySelector('[data-testid=look-around]')
     around.setPointerCapture = () => undefined; around.hasPointerCapture = () => true
     const host = document.querySelector('[data-testid=proof]')
     const box = around.getBoundingClientRect()
     const at = (x) => ({ clientX: box.left + box.width / 2 + x, clientY: box.top + box.height / 2, bubbles: true, cancelable: true, button: 0, buttons: 1, pointerId: 1, isPrimary: true })
     let pictures = 0, moves = 0
     const told = new MutationObserver(() => { pictures++ })
     told.observe(host, { attributeFilter: ['data-shown'] })
     around.dispatchEvent(new PointerEvent('pointerdown', at(0)))
     const started = performance.now()
     const step = () => {
       const now = performance.now()
       if (now - started > seconds * 1000) {
         around.dispatchEvent(new PointerEvent('pointerup', at(0)))
         told.disconnect()
         done({ pictures, moves }); return
       }
       moves++
       around.dispatchEvent(new PointerEvent('pointermove', at(150 * Math.sin((now - started) / 500))))
       requestAnimationFrame(step)
     }
     requestAnimationFrame(step)`,
    SECONDS,
  )
