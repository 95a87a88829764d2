import { mkdtempSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import path from 'node:path'
import { newEffect } from '@/core/sheet/new-layer'
import { testSheet } from '@/core/sheet/testing/sheets'
import { BenchPage } from '../tests/bench-page'
import { benchLayers, sheetArchive, SIZE, withEffects } from './reference/bench-sheet'

/** Sliders: of effects of a pixel, of blurs, and of what takes long. */
const SLIDERS = [
  ['levels', 'Gamma'],
  ['exposure', 'Exposure'],
  ['hueChromaLightness', 'Hue'],
  ['rangeTint', 'Lights by'],
  ['vignette', 'Amount'],
  ['grain', 'Amount'],
  ['gaussianBlur', 'Radius'],
  ['unsharpMask', 'Amount'],
  ['depthBlur', 'Aperture'],
  ['painterlySmoothing', 'Radius'],
  ['halftone', 'Cell'],
  ['crossHatching', 'Spacing'],
  ['stipple', 'Dot'],
] as const
/** How long each is dragged. Seconds. */
const SECONDS = 4
/** The layer of the front half that they are on. */
const LAYER = 'l14'

/** Dragging sliders of effects on a sheet of twenty layers with ten effects, in the application: changes a second that are seen. */
export async function main(): Promise<void> {
  const folder = mkdtempSync(path.join(tmpdir(), 'relief-sliders-'))
  const file = path.join(folder, 'bench.zip')
  const { layers, pictures } = benchLayers()
  const sheet = withEffects(testSheet(SIZE, layers), 10)
  const node = sheet.nodes[LAYER]
  const dragged = SLIDERS.map(([kind], i) => ({ ...newEffect(`dragged-${i}`, kind), enabled: false }))
  sheet.nodes[LAYER] = { ...node, effects: [...node.effects, ...dragged] }
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
    await page.css(`[data-testid=card-${LAYER}]`)
    await page.until('the proof stands', () =>
      page.driver.executeScript<boolean>(
        `const t = document.querySelector('[data-testid=proof]'); return !!t && t.dataset.shown !== undefined`,
      ),
    )
    const card = await page.css(`[data-testid=card-${LAYER}]`)
    await page.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', card)
    await card.click()
    for (const [kind, label] of SLIDERS) {
      await page.css(`[data-testid=effect-${kind}]`)
      await page.driver.executeScript(
        `const rows = document.querySelectorAll('[data-testid=effect-${kind}]'); const row = rows[rows.length - 1]
         row.querySelector('input[type=checkbox]').click()
         if (row.querySelector('.effect-name').getAttribute('aria-expanded') !== 'true') row.querySelector('.effect-name').click()`,
      )
      await new Promise((resolve) => setTimeout(resolve, 6000))
      const found = await drag(page, kind, label)
      console.log(
        `${kind}, ${label}: ${found.changes.toFixed(1)} changes a second of ${found.proof}, ${found.worked.toFixed(0)} ms each in the worker; ` +
          `longest task of the page ${found.longest.toFixed(0)} ms`,
      )
      await page.driver.executeScript(
        `const rows = document.querySelectorAll('[data-testid=effect-${kind}]'); rows[rows.length - 1].querySelector('input[type=checkbox]').click()`,
      )
    }
  } finally {
    await page.close()
  }
}

interface Dragged {
  readonly changes: number
  readonly worked: number
  readonly longest: number
  readonly proof: string
}

/** Drags a slider of the last effect of a kind to and fro. */
const drag = (page: BenchPage, kind: string, label: string): Promise<Dragged> =>
  page.driver.executeAsyncScript<Dragged>(
    `const [kind, label, seconds, done] = arguments
     const rows = document.querySelectorAll('[data-testid=effect-' + kind + ']'); const row = rows[rows.length - 1]
     const input = row.querySelector('.slide input[aria-label="' + label + '"]')
     if (!input) { done({ changes: NaN, worked: NaN, longest: NaN, proof: 'no slider: ' + [...row.querySelectorAll('.slide input')].map((i) => i.ariaLabel).join() }); return }
     const rail = input.closest('.MuiSlider-root'); rail.setPointerCapture = () => undefined; rail.hasPointerCapture = () => false
     const box = rail.getBoundingClientRect()
     const at = (share) => ({ clientX: box.left + share * box.width, clientY: box.top + box.height / 2, bubbles: true, cancelable: true, button: 0, buttons: 1, pointerId: 1, pointerType: 'mouse', isPrimary: true })
     let changes = 0, longest = 0; const times = []
     const host = document.querySelector('[data-testid=proof]'); const canvas = host.querySelector('canvas')
     const told = new MutationObserver(() => { changes++; times.push(Number(host.dataset.milliseconds)) })
     told.observe(host, { attributeFilter: ['data-shown'] })
     const observer = new PerformanceObserver((list) => list.getEntries().forEach((e) => { longest = Math.max(longest, e.duration) }))
     observer.observe({ type: 'longtask' })
     rail.dispatchEvent(new PointerEvent('pointerdown', at(0.3)))
     const started = performance.now()
     const step = () => {
       const now = performance.now()
       if (now - started > seconds * 1000) {
         document.dispatchEvent(new PointerEvent('pointerup', at(0.5)))
         told.disconnect()
         const late = times.slice(times.length >> 1).sort((a, b) => a - b)
         setTimeout(() => { observer.disconnect(); done({ changes: changes / seconds, worked: late[late.length >> 1], longest, proof: canvas.width + ' × ' + canvas.height }) }, 1500)
         return
       }
       document.dispatchEvent(new PointerEvent('pointermove', at(0.2 + 0.6 * Math.abs(Math.sin(now / 900)))))
       requestAnimationFrame(step)
     }
     requestAnimationFrame(step)`,
    kind,
    label,
    SECONDS,
  )
