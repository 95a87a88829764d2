import { readdirSync, readFileSync } from 'node:fs'
import { cpus } from 'node:os'
import { BenchPage } from '../tests/bench-page'

/** Jumps of the playhead. */
const JUMPS = 60
const PLAYED_SECONDS = 8

/**
 * The demo's turntable in the application: all of its frames, how true the time left was after ten of them, how much memory the
 * browser took; then played at 24 a second, and scrubbed.
 */
export async function main(): Promise<void> {
  const page = await BenchPage.open()
  try {
    const version = (await page.driver.getCapabilities()).get('browserVersion') as string
    console.log(`machine: ${cpus()[0].model}, ${cpus().length} cores, Chromium ${version}`)
    await page.driver.get(page.address)
    await page.xpath('//*[.="The Brass Gauge"]')
    // Its picture of the start page is made meanwhile.
    await page.driver.sleep(15_000)
    await page.driver.get(`${page.address}/project/brass-gauge/turntable`)
    await page.css('[data-testid=render-turn]', 60_000)
    await page.driver.sleep(4000)
    await rendered(page)
    await played(page)
    await scrubbed(page)
  } finally {
    await page.close()
  }
}

async function rendered(page: BenchPage): Promise<void> {
  const read = () =>
    page.driver.executeScript<{ done: number; all: number; left: number | null }>(
      `const [done, all] = document.querySelector('[data-testid=frames-there]').textContent.match(/\\d+/g).map(Number)
       const { seconds } = document.querySelector('[data-testid=frames-told]').dataset
       return { done, all, left: seconds === undefined ? null : Number(seconds) }`,
    )
  const began = Date.now()
  await page.click('[data-testid=render-turn]')
  let most = 0
  let told: { readonly at: number; readonly left: number; readonly done: number } | null = null
  for (;;) {
    await page.driver.sleep(1000)
    const { done, all, left } = await read()
    most = Math.max(most, memoryOfBrowser())
    const at = (Date.now() - began) / 1000
    if (!told && done >= 10 && left !== null) told = { at, left, done }
    if (done === all) {
      const whole = at
      const off = told ? ((told.at + told.left) / whole - 1) * 100 : Number.NaN
      console.log(
        `${all} frames: ${whole.toFixed(0)} s; after ${told?.done} frames it said ${told?.left.toFixed(0)} s more, ${off.toFixed(0)} % off; browser and its workers at most ${(most / 2 ** 20).toFixed(0)} MB`,
      )
      return
    }
  }
}

/** Memory of all processes of the browser, what they share counted once. Bytes. */
function memoryOfBrowser(): number {
  let sum = 0
  for (const pid of readdirSync('/proc').filter((name) => /^\d+$/.test(name))) {
    try {
      if (!readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('chrom')) continue
      const pss = /^Pss:\s+(\d+) kB/m.exec(readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8'))
      sum += 1024 * Number(pss?.[1] ?? 0)
    } catch {
      // It ended meanwhile.
    }
  }
  return sum
}

async function played(page: BenchPage): Promise<void> {
  await page.driver.executeScript(
    `[...document.querySelectorAll('.rates button')].find((b) => b.textContent === '24').click()`,
  )
  await page.driver.sleep(1000)
  await page.click('[data-testid=play]')
  await page.driver.sleep(1000 * PLAYED_SECONDS)
  const told = await (await page.css('[data-testid=dropped]')).getText()
  await page.click('[data-testid=play]')
  console.log(`played for ${PLAYED_SECONDS} s: ${told}`)
}

/** Jumps of the playhead by a hand on the ruler: until the frame stands on the screen. */
async function scrubbed(page: BenchPage): Promise<void> {
  const jumps = await page.driver.executeAsyncScript<{ answered: number; shown: number }[]>(
    `const [jumps, done] = arguments
     const ruler = document.querySelector('[data-testid=turn-ruler]')
     ruler.setPointerCapture = () => undefined; ruler.hasPointerCapture = () => true
     const box = ruler.getBoundingClientRect()
     const canvas = document.querySelector('[data-testid=turn-canvas]')
     const label = () => document.querySelector('[data-testid=turn-frame]').textContent
     const times = []
     const jump = (k) => {
       if (k === jumps) { done(times); return }
       const x = box.left + box.width * ((0.37 * (k + 1)) % 1)
       const before = label()
       const began = performance.now()
       ruler.dispatchEvent(new PointerEvent('pointerdown', { clientX: x, clientY: box.top + 4, bubbles: true, cancelable: true, button: 0, buttons: 1, pointerId: 1, isPrimary: true }))
       let answered = null
       const look = () => {
         if (answered === null && label() !== before) answered = performance.now() - began
         if (answered !== null && canvas.dataset.shown === 'true') {
           times.push({ answered, shown: performance.now() - began })
           setTimeout(() => jump(k + 1), 120)
         } else requestAnimationFrame(look)
       }
       requestAnimationFrame(look)
     }
     jump(0)`,
    JUMPS,
  )
  const at = (of: (jump: (typeof jumps)[number]) => number, share: number) =>
    jumps
      .map(of)
      .sort((a, b) => a - b)
      [Math.floor(share * JUMPS)].toFixed(0)
  console.log(
    `scrubbed, ${JUMPS} jumps: stands there, in clay at the least, after ${at((j) => j.answered, 0.5)} ms in the median and ${at((j) => j.answered, 0.95)} ms at the 95th of a hundred; as it is rendered after ${at((j) => j.shown, 0.5)} and ${at((j) => j.shown, 0.95)} ms`,
  )
}
