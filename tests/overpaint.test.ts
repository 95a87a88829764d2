import { afterAll, beforeAll, expect, it } from 'vitest'
import type { ContentOf } from '@/core/sheet/contents/registry'
import type { SheetNode } from '@/core/sheet/sheet-schema'
import { activeSheet, activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'
import { storedProject } from './stored-project'

/** What the passes give the brush, over the demo: led strokes, what grows and falls, clones, and paint that follows its part. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.openDemoSheet()
  await (await page.css('[data-testid="card-Evening light"]')).click()
  await page.chord(page.keys.SHIFT, 'b')
  await page.css('[data-testid=paint-overlay]')
})
afterAll(async () => {
  await page?.close()
})

const stored = async (): Promise<Project> => {
  await page.saved()
  return storedProject(page, 'low-water')
}
const nodes = async (): Promise<SheetNode[]> => Object.values(activeSheet(await stored()).nodes)
const holding = async <K extends 'cracks' | 'specks' | 'fallenShadow' | 'painted'>(
  kind: K,
): Promise<(SheetNode & { content: ContentOf<K> })[]> =>
  (await nodes()).filter((node): node is SheetNode & { content: ContentOf<K> } => node.content.kind === kind)

const place = async ([x, y]: readonly [number, number]) => {
  const box = await (await page.css('[data-testid=proof]')).getRect()
  return { x: Math.round(box.x + x * box.width), y: Math.round(box.y + y * box.height) }
}
async function draw(...places: readonly (readonly [number, number])[]): Promise<void> {
  let actions = page.driver
    .actions({ async: true })
    .move({ ...(await place(places[0])), duration: 0 })
    .press()
  for (const one of places.slice(1)) actions = actions.move({ ...(await place(one)), duration: 80 })
  await actions.release().perform()
}
const quick = (label: string) => page.text('button', label).then((button) => button.click())
const inView = async (selector: string) =>
  page.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', await page.css(selector))
/** Clicks what may be drawn anew as the sheet comes in. */
const surelyClick = (selector: string) =>
  page.until(`${selector} is clicked`, async () => {
    try {
      await inView(selector)
      await (await page.css(selector)).click()
      return true
    } catch {
      return false
    }
  })
const led = async (lead: string) => {
  await inView('#paint-lead')
  await page.choose('#paint-lead', lead)
}
const pixel = (x: number, y: number) =>
  page.until('the proof stands', async () => {
    const found = await page.pixel('Proof', x, y)
    return found.length === 4 && found
  })
const rested = () => page.proofAtRest()
const differ = (a: readonly number[], b: readonly number[]) =>
  Math.max(...a.map((v, i) => Math.abs(v - b[i]))) > 12

it('is led straight, from corner to corner and round an ellipse', async () => {
  await page.click('[data-testid=tip-hardRound]')
  await led('straight')
  await rested()
  const spots = [
    [0.15, 0.1],
    [0.1, 0.25],
    [0.2, 0.35],
    [0.12, 0.5],
  ] as const
  const before = await Promise.all(spots.map(([x, y]) => pixel(x, y)))
  const isPainted = async (i: number) => differ(await pixel(spots[i][0], spots[i][1]), before[i])
  // A hand that goes astray on its way: the line is straight all the same.
  await draw([0.05, 0.1], [0.12, 0.2], [0.25, 0.1])
  await page.until('the line is painted', () => isPainted(0))
  await led('corners')
  for (const corner of [
    [0.05, 0.25],
    [0.2, 0.25],
    [0.2, 0.4],
  ] as const) {
    await page.driver
      .actions()
      .move({ ...(await place(corner)), duration: 60 })
      .click()
      .perform()
    await page.driver.sleep(600)
  }
  await page.driver.executeScript('document.querySelector("[data-testid=paint-overlay]").focus()')
  await page.driver.actions().sendKeys(page.keys.ENTER).perform()
  await page.until('both its lines are painted', async () => (await isPainted(1)) && isPainted(2))
  await led('ellipse')
  await draw([0.05, 0.5], [0.1, 0.55], [0.19, 0.68])
  await page.until('its top is painted', () => isPainted(3))
  await rested()
  expect(differ(await pixel(0.12, 0.59), await pixel(0.12, 0.5))).toBe(true)
  await led('free')
})

it('goes along a line of the drawing', async () => {
  await led('line')
  await rested()
  const before = await pixel(0.52, 0.335)
  await draw([0.455, 0.33], [0.52, 0.33], [0.58, 0.33])
  await page.until('it is painted along the eaves', async () => differ(await pixel(0.52, 0.335), before))
  await led('free')
})

it('clones what lies where Alt was pressed', async () => {
  await page.click('[data-testid=paint-clone]')
  await rested()
  const before = await pixel(0.9, 0.42)
  await draw([0.9, 0.42], [0.9, 0.43])
  await page.until('it says what is missing', async () => /press Alt where/.test(await page.bodyText()))
  await page.driver
    .actions()
    .keyDown(page.keys.ALT)
    .move({ ...(await place([0.545, 0.3])), duration: 0 })
    .click()
    .keyUp(page.keys.ALT)
    .perform()
  const roof = await pixel(0.545, 0.3)
  await draw([0.9, 0.42], [0.903, 0.42])
  await page.until('it has the colour of the roof', async () => {
    const now = await pixel(0.9, 0.42)
    return differ(now, before) && Math.max(...now.map((v, i) => Math.abs(v - roof[i]))) < 40
  })
})

it('clones from a layer alone, where its small picture is pressed', async () => {
  const sky = (await nodes()).find(({ name }) => name === 'Evening sky')
  await inView('#paint-clone-of')
  await page.choose('#paint-clone-of', `layer ${sky?.id}`)
  await page.click('[data-testid=clone-source]')
  await rested()
  const before = await pixel(0.3, 0.9)
  await draw([0.3, 0.9], [0.303, 0.9])
  await page.until('the water has the colour of the sky', async () => {
    const now = await pixel(0.3, 0.9)
    return differ(now, before) && now[0] > before[0] + 30
  })
  await page.choose('#paint-clone-of', '')
})

it('grows cracks from a line, inside what it began on, and gives them as lines', async () => {
  await quick('Cracks')
  await draw([0.43, 0.74], [0.5, 0.8], [0.52, 0.9])
  const [own] = await page.until('they have grown', async () => {
    const found = await holding('cracks')
    return found.length > 0 && found
  })
  expect(own.content.lines).toHaveLength(1)
  expect(own.mask?.terms[0]).toMatchObject({ kind: 'parts' })
  // In the ink of the drawing.
  expect(own.content.colour).toBe('#34202a')
  await draw([0.75, 0.8], [0.78, 0.92])
  await page.until('a second line is on the same layer', async () => {
    const [now] = await holding('cracks')
    return now.content.lines.length === 2
  })
  expect(await violations(page)).toEqual([])
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('it is taken back', async () => (await holding('cracks'))[0].content.lines.length === 1)
})

it('lays the shadow of what is clicked on the ground', async () => {
  await quick('Fallen shadow')
  await page.until('it waits', async () => /Click what throws the shadow/.test(await page.bodyText()))
  await page.driver
    .actions()
    .move({ ...(await place([0.548, 0.32])), duration: 0 })
    .click()
    .perform()
  const [own] = await page.until('it hangs', async () => {
    const found = await holding('fallenShadow')
    return found.length > 0 && found
  })
  expect(own.content.parts.length).toBeGreaterThan(0)
  expect(own.mode).toBe('multiply')
  // Its foot stands below its top, and its end is somewhere else.
  expect(own.content.foot[1]).toBeGreaterThan(own.content.head[1])
  expect(
    Math.hypot(own.content.falls[0] - own.content.foot[0], own.content.falls[1] - own.content.foot[1]),
  ).toBeGreaterThan(0.03)
  expect(await violations(page)).toEqual([])
})

it('shows specks where they are painted', async () => {
  await page.chord(page.keys.SHIFT, 'b')
  await page.css('[data-testid=paint-overlay]')
  await quick('Specks where I paint')
  const [own] = await page.until('they hang', async () => {
    const found = await holding('specks')
    return found.length > 0 && found
  })
  expect(own.mask?.terms[0]).toMatchObject({ kind: 'painted', outside: false, tiles: {} })
  await draw([0.3, 0.3], [0.6, 0.5], [0.8, 0.3])
  await page.until('their mask is painted', async () => {
    const term = (await holding('specks'))[0].mask?.terms[0]
    return term?.kind === 'painted' && Object.keys(term.tiles).length > 2
  })
})

it('paints the mask of an effect, on whatever the layer holds', async () => {
  const card = '[data-testid="card-Evening light"]'
  await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
  await inView(card)
  await page.click(card)
  await page.chord(page.keys.SHIFT, 'b')
  await page.click('[data-testid=paint-reveal]')
  const layer = (await nodes()).find(({ name }) => name === 'Evening light')
  const effect = layer?.effects.find(({ kind }) => kind === 'vignette')
  await inView('#paint-mask-of')
  await page.choose('#paint-mask-of', effect?.id ?? '')
  await draw([0.05, 0.9], [0.3, 0.95])
  const painted = async () => {
    const now = (await nodes()).find(({ id }) => id === layer?.id)
    const term = now?.effects.find(({ id }) => id === effect?.id)?.mask?.terms.at(-1)
    return term?.kind === 'painted' && Object.keys(term.tiles).length > 0 && [now?.mask]
  }
  const [own] = await page.until('the effect’s mask is painted', painted)
  expect(own).toEqual(layer?.mask)
  await page.choose('#paint-mask-of', '')
})

it('paints where the pointer is on a canvas that is turned', async () => {
  await page.click('[data-testid=paint-paint]')
  await page.click('[data-testid=tip-hardRound]')
  for (let i = 0; i < 6; i++) await page.press('a')
  await rested()
  const before = await pixel(0.752, 0.6)
  // A quarter turn to the right: what is right of the middle lies below it now.
  const [cx, cy, ...size] = await page.driver.executeScript<[number, number, number, number]>(
    `const o = document.querySelector('[data-testid=paint-overlay]'); const b = o.getBoundingClientRect()
     return [b.left + b.width / 2, b.top + b.height / 2, o.offsetWidth, o.offsetHeight]`,
  )
  const [dx, dy] = [0.25 * size[0], 0.1 * size[1]]
  const away = await pixel(0.6, 0.95)
  await page.driver
    .actions({ async: true })
    .move({ x: Math.round(cx - dy), y: Math.round(cy + dx), duration: 0 })
    .press()
    .move({ x: Math.round(cx - dy), y: Math.round(cy + dx) + 3, duration: 100 })
    .release()
    .perform()
  await page.until('it is painted there', async () => differ(await pixel(0.752, 0.6), before))
  expect(differ(await pixel(0.6, 0.95), away)).toBe(false)
  await page.press('e')
  expect(await violations(page)).toEqual([])
})

it('is zoomed by two fingers beside a pen, without a stroke', async () => {
  const zoom = async () => Number(/(\d+) %/.exec(await (await page.css('.stage .status b')).getText())?.[1])
  const before = await zoom()
  const count = (await nodes()).length
  await page.driver.executeScript(
    `const overlay = document.querySelector('[data-testid=paint-overlay]'); const box = overlay.getBoundingClientRect()
     const fire = (type, pointerType, id, dx) => overlay.dispatchEvent(new PointerEvent(type, { bubbles: true, cancelable: true, pointerType, pointerId: id, button: type === 'pointermove' ? -1 : 0, buttons: 1,
       clientX: box.left + box.width / 2 + dx, clientY: box.top + box.height / 2 }))
     overlay.setPointerCapture = () => undefined
     fire('pointermove', 'pen', 9, 0); fire('pointerdown', 'pen', 9, 0); fire('pointerup', 'pen', 9, 0)
     fire('pointerdown', 'touch', 21, -60); fire('pointerdown', 'touch', 22, 60)
     fire('pointermove', 'touch', 22, 180)`,
  )
  await page.until('it is larger', async () => (await zoom()) > 1.5 * before)
  await page.driver.executeScript(
    `for (const id of [21, 22]) document.querySelector('.stage').dispatchEvent(new PointerEvent('pointerup', { bubbles: true, pointerType: 'touch', pointerId: id }))`,
  )
  await page.press('0')
  await page.until('it fits again', async () => (await zoom()) === before)
  expect((await nodes()).length).toBe(count)
})

it('carries paint over to a shot that has moved', async () => {
  await page.chord(page.keys.CONTROL, '2')
  await page.css('[data-testid=shot-view]')
  await page.press('l')
  await page.text('button', 'Lock the shot')
  const before = activeShot(await stored()).camera
  await page.press(page.keys.ARROW_LEFT)
  await page.until('it has moved', async () => activeShot(await stored()).camera.eye[0] !== before.eye[0])
  await page.chord(page.keys.CONTROL, '4')
  const painted = (await holding('painted'))[0]
  const card = `[data-testid="card-${painted.name}"]`
  await surelyClick(card)
  await surelyClick('[data-testid=carry-over]')
  await page.until('it is carried over', async () =>
    /follows what it was painted on|is out of sight now/.test(await page.bodyText()),
  )
  const { camera } = activeShot(await stored())
  const after = (await nodes()).find(({ id }) => id === painted.id)
  expect(after?.content).toMatchObject({ kind: 'painted', seenBy: { camera: { eye: camera.eye } } })
  expect(after?.content.kind === 'painted' && after.content.tiles).not.toEqual(painted.content.tiles)
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('and taken back', async () => {
    const now = (await nodes()).find(({ id }) => id === painted.id)
    return (
      now?.content.kind === 'painted' &&
      JSON.stringify(now.content.tiles) === JSON.stringify(painted.content.tiles)
    )
  })
})

it('loses no stroke where storage is full, and stores it once there is room', async () => {
  await page.fillStorage('save-paint')
  await page.saved()
  await page.driver.navigate().refresh()
  await page.css('canvas[aria-label=Proof]')
  await page.click('[data-testid="card-Evening light"]')
  await page.chord(page.keys.SHIFT, 'b')
  await page.click('[data-testid=tip-hardRound]')
  await rested()
  const before = await pixel(0.2, 0.15)
  await draw([0.1, 0.15], [0.2, 0.15], [0.3, 0.15])
  await page.until('it is told', async () =>
    /The stroke is seen, but not kept yet/.test(await page.bodyText()),
  )
  expect(differ(await pixel(0.2, 0.15), before)).toBe(true)
  await page.driver.executeScript('window.isFull = false')
  // The next one finds room, and so does that.
  await draw([0.1, 0.25], [0.2, 0.25])
  await page.driver.sleep(2500)
  await page.saved()
  await page.driver.executeScript('window.isFull = false')
  const after = await pixel(0.2, 0.15)
  await page.driver.navigate().refresh()
  await page.css('canvas[aria-label=Proof]')
  await page.until('both stand after a reload', async () => !differ(await pixel(0.2, 0.15), after))
})
