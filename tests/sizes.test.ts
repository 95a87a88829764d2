import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'

/** Every step at every size of a window, zoomed in, by touch, in forced colours and without motion: nothing breaks, no words are cut. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
  await page.css('.project-card')
})
afterAll(async () => {
  await page?.close()
})

const PLACES = [
  ['', '.project-card'],
  ['guide', '.guide article'],
  ['project/low-water/models', '.part-row'],
  ['project/low-water/shot', '[data-testid=lock]'],
  ['project/low-water/passes', '[data-testid=pass-clay]'],
  ['project/low-water/sheet', '.card'],
  ['project/low-water/poster', '.series .format'],
  ['project/brass-gauge/turntable', '[data-testid=frames-there]'],
  ['project/low-water/export', '[data-testid=export-sheet]'],
] as const

const open = async (place: string, first: string) => {
  await page.go(`/${place}`)
  await page.css(first)
  await page.driver.sleep(500)
}

/** Words that are cut off, and what lies where no scrolling leads. */
const cut = () =>
  page.driver.executeScript<string[]>(
    `const found = []
     // What hangs in a row.
     const STRIPS = '.rack-scroll, .tabs, .series, [data-scrolls]'
     const root = document.documentElement
     const name = (e) => e.tagName.toLowerCase() + '.' + String(e.className?.baseVal ?? e.className).split(' ').join('.') + ' "' + (e.textContent ?? '').trim().slice(0, 40) + '"'
     for (const e of document.querySelectorAll('body *')) {
       if (!e.checkVisibility?.({ checkOpacity: true, checkVisibilityCSS: true })) continue
       const style = getComputedStyle(e)
       if (/auto|scroll/.test(style.overflowX) && e.scrollWidth > e.clientWidth + 1 && !e.matches(STRIPS)) found.push('scrolls across: ' + name(e))
       const words = [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim() !== '')
       if (!words || e.closest('.unseen-text, svg, [aria-hidden=true]')) continue
       // Those that end in dots are told whole elsewhere.
       if (style.textOverflow !== 'ellipsis' && /hidden|clip/.test(style.overflowX) && e.scrollWidth > e.clientWidth + 1) found.push('cut: ' + name(e))
       if (e.matches('button, .pill, th, kbd') && style.textOverflow !== 'ellipsis' && e.scrollWidth > e.clientWidth + 2) found.push('wider than its place: ' + name(e))
       const box = e.getBoundingClientRect()
       if (box.width > 0 && (box.left < -1 || box.right + scrollX > Math.max(root.scrollWidth, innerWidth) + 1) && !e.closest('[style*=overflow], .rack, .cards, .lanes, .parts, .contact, [data-scrolls]')) {
         let at = e.parentElement
         while (at && !/auto|scroll|hidden|clip/.test(getComputedStyle(at).overflowX)) at = at.parentElement
         if (!at || at === document.body || at === root) found.push('beyond the page: ' + name(e))
       }
     }
     return [...new Set(found)]`,
  )

const SIZES = [
  { width: 1280, height: 800, scale: 1 },
  { width: 1600, height: 1000, scale: 1 },
  { width: 2560, height: 1440, scale: 1 },
  // A window of 1280 × 800 at 200 %.
  { width: 640, height: 400, scale: 2 },
] as const

/** What is wrong with what is shown, at each size. */
async function atEverySize(): Promise<string[]> {
  const found: string[] = []
  for (const { width, height, scale } of SIZES) {
    await page.devTools('Emulation.setDeviceMetricsOverride', {
      width,
      height,
      deviceScaleFactor: scale,
      mobile: false,
    })
    await page.driver.sleep(400)
    const problems = await cut()
    // Whatever is there can be come to.
    const hidden = await page.driver.executeScript<number>(
      `const button = document.querySelector('header button:last-of-type, header a:last-of-type')
       button?.scrollIntoView()
       const box = button?.getBoundingClientRect()
       return box ? Math.max(0, box.right - innerWidth, box.bottom - innerHeight) : 0`,
    )
    if (hidden > 1) problems.push('the header’s end is out of reach')
    found.push(...problems.map((problem) => `${width} × ${height}: ${problem}`))
  }
  await page.devTools('Emulation.clearDeviceMetricsOverride')
  return found
}

/** What is wrong with it in colours that a person chose. */
async function inForcedColours(): Promise<string[]> {
  await page.devTools('Emulation.setEmulatedMedia', {
    features: [{ name: 'forced-colors', value: 'active' }],
  })
  // Of colours it reads those that are not shown.
  const found = (await violations(page)).filter((text) => !text.startsWith('color-contrast'))
  // What has the focus is seen.
  await page.driver.actions().sendKeys(page.keys.TAB).perform()
  const outline = await page.driver.executeScript<string>(
    'return document.activeElement === document.body ? "" : getComputedStyle(document.activeElement).outlineStyle',
  )
  if (outline === 'none') found.push('what has the focus is not seen')
  await page.devTools('Emulation.setEmulatedMedia', { features: [] })
  return found.map((problem) => `in forced colours: ${problem}`)
}

/** What moves by itself though a person asked for none of it. */
async function withoutMotion(): Promise<string[]> {
  await page.devTools('Emulation.setEmulatedMedia', {
    features: [{ name: 'prefers-reduced-motion', value: 'reduce' }],
  })
  const moving = await page.driver.executeScript<string[]>(
    `return document.getAnimations().filter((a) => a.playState === 'running' && a.effect.getComputedTiming().duration > 50)
       .map((a) => a.animationName ?? a.transitionProperty)`,
  )
  await page.devTools('Emulation.setEmulatedMedia', { features: [] })
  return moving.map((own) => `${own} moves`)
}

describe('at every size, in any colours, without motion', () => {
  it.each(PLACES)('/%s does not break', async (place, first) => {
    await open(place, first)
    expect([...(await atEverySize()), ...(await inForcedColours()), ...(await withoutMotion())]).toEqual([])
  })
})
