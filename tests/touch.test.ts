import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { BenchPage } from './bench-page'

/** The bench under fingers: taps, drags, holds and two at once, as a screen that is touched reports them. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.devTools('Emulation.setTouchEmulationEnabled', { enabled: true, maxTouchPoints: 5 })
  await page.openDemoSheet()
})
afterAll(async () => {
  await page?.close()
})

type Place = readonly [x: number, y: number]
const touch = (type: 'touchStart' | 'touchMove' | 'touchEnd', ...at: Place[]) =>
  page.devTools('Input.dispatchTouchEvent', {
    type,
    touchPoints: at.map(([x, y], id) => ({ x: Math.round(x), y: Math.round(y), id })),
  })
const placeIn = async (selector: string, across = 0.5, down = 0.5): Promise<Place> => {
  const { x, y, width, height } = await (await page.css(selector)).getRect()
  return [x + across * width, y + down * height]
}
const tap = async (at: Place) => {
  await touch('touchStart', at)
  await touch('touchEnd')
}
/** @param heldMs how long the finger rests before it moves. @param halfwayMs … and on its way. */
const drag = async (from: Place, to: Place, heldMs = 0, halfwayMs = 0) => {
  await touch('touchStart', from)
  await page.driver.sleep(heldMs)
  for (let i = 1; i <= 8; i++) {
    await touch('touchMove', [from[0] + ((to[0] - from[0]) * i) / 8, from[1] + ((to[1] - from[1]) * i) / 8])
    if (i === 4) await page.driver.sleep(halfwayMs)
  }
  await touch('touchEnd')
}
const order = () =>
  page.driver.executeScript<string[]>(
    "return [...document.querySelectorAll('.rack [data-layer]')].map((e) => e.dataset.testid.replace('card-', ''))",
  )
const isHeld = async (name: string) =>
  (await (await page.css(`[data-testid="card-${name}"]`)).getAttribute('data-held')) === 'true'
const text = async (selector: string) => (await page.css(selector)).getText()

describe('a finger', () => {
  it('chooses a card by a tap, scrolls the rack by a drag, and moves a card that it held', async () => {
    await tap(await placeIn('[data-testid="card-Clay"]', 0.5, 0.3))
    await page.until('it is chosen', async () => (await text('.inspector h2')) === 'Clay')
    // A finger that takes its time chooses all the same.
    await touch('touchStart', await placeIn('[data-testid="card-Contour"]', 0.5, 0.3))
    await page.until('it is seen to be held', () => isHeld('Contour'))
    await page.driver.sleep(600)
    await touch('touchEnd')
    expect(await isHeld('Contour')).toBe(false)
    await page.until('the other is chosen', async () => (await text('.inspector h2')) === 'Contour')
    const before = await order()
    const flat = await placeIn('[data-testid="card-Flat colour"]', 0.5, 0.4)
    const scrolled = () =>
      page.driver.executeScript<number>("return document.querySelector('.rack-scroll').scrollLeft")
    // On a busy machine a finger may come so late that it seems to have rested: it tries again.
    for (let go = 0; go < 5 && (await scrolled()) <= 100; go++) {
      await drag(await placeIn('[data-testid="card-Contour"]', 0.5, 0.4), flat)
      await page.driver.sleep(300)
      if ((await order()).join() !== before.join()) await page.chord(page.keys.CONTROL, 'z')
    }
    expect(await scrolled()).toBeGreaterThan(100)
    expect(await order()).toEqual(before)
    await page.driver.executeScript("document.querySelector('.rack-scroll').scrollLeft = 0")
    await drag(
      await placeIn('[data-testid="card-Cavity"]', 0.5, 0.4),
      await placeIn('[data-testid="card-Flat colour"]', 0.4, 0.4),
      400,
    )
    await page.until(
      'it hangs elsewhere',
      async () => (await order()).indexOf('Cavity') < before.indexOf('Cavity'),
    )
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('it hangs where it hung', async () => (await order()).join() === before.join())
  })

  it('drags the peel, an opacity and a number', async () => {
    const [, along] = await placeIn('.peel')
    const [from] = await placeIn('[data-testid="card-Contour"]')
    const [to] = await placeIn('[data-testid="card-Cavity"]', 1)
    await drag([from, along], [to, along])
    await page.until('layers are lifted', async () => /lifted/.test(await text('.peel')))
    await page.press('/')
    await tap(await placeIn('[data-testid="card-Clay"]', 0.5, 0.3))
    const percent = async () => Number(/\d+/.exec(await text('[data-testid="card-Clay"] .card-mode b'))?.[0])
    expect(await percent()).toBe(100)
    const before = await order()
    // However long it rests, and however far it goes: the edge is dragged, not the card.
    await drag(
      await placeIn('[data-testid="card-Clay"] .card-edge', 0.98),
      await placeIn('[data-testid="card-Clay"] .card-edge', -0.6),
      400,
    )
    await page.until('it is clear', async () => (await percent()) === 0)
    expect(await order()).toEqual(before)
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('it is whole', async () => (await percent()) === 100)
    const [x, y] = await placeIn('.inspector .row:has(label) .scrub')
    // However long one looks on the way: it is one step.
    await drag([x, y], [x - 90, y], 0, 1500)
    await page.until('it is scrubbed', async () => (await percent()) < 90)
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('it is whole again', async () => (await percent()) === 100)
  })

  it('paints', async () => {
    await page.press('s')
    await page.chord(page.keys.SHIFT, 'b')
    await page.css('[data-testid=paint-overlay]')
    const count = (await order()).length
    await drag(
      await placeIn('[data-testid=paint-overlay]', 0.3, 0.3),
      await placeIn('[data-testid=paint-overlay]', 0.6, 0.5),
    )
    await page.until('a painted layer hangs', async () => (await order()).length === count + 1)
    await page.press(page.keys.ESCAPE)
    await page.chord(page.keys.CONTROL, 'z')
    await page.saved()
  })
})

describe('two fingers', () => {
  it('zoom the proof by parting, about the place between them', async () => {
    const zoom = async () => Number(/(\d+) %/.exec(await text('.stage .status'))?.[1])
    const before = await zoom()
    const [x, y] = await placeIn('canvas[aria-label=Proof]')
    await touch('touchStart', [x - 40, y], [x + 40, y])
    for (let i = 1; i <= 8; i++) await touch('touchMove', [x - 40 - 10 * i, y], [x + 40 + 10 * i, y])
    await touch('touchEnd')
    await page.until('it is larger', async () => (await zoom()) > 2 * before)
    expect(await zoom()).toBeLessThan(4 * before)
    await page.press('0')
  })
})
