import path from 'node:path'
import { writeFileSync } from 'node:fs'
import { unzipSync } from 'fflate'
import sharp from 'sharp'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { hasContent } from '../src/core/sheet/sheet-schema'
import { BenchPage } from './bench-page'
import { storedProject } from './stored-project'

/** A poster as it hangs: on paper and in pictures; its inks and plates; type that lies among the things of the shot. */
let page: BenchPage

beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
  await page.css('.project-card')
})
afterAll(async () => {
  await page?.close()
})

const stored = async () => {
  await page.saved()
  return storedProject(page, 'low-water')
}
const sheetNow = async () => {
  const { shots, sheets, shotId } = await stored()
  const at = shots.find(({ id }) => id === shotId)?.sheetId
  const found = sheets.find(({ id }) => id === at)
  if (!found) throw new Error('no sheet is at work')
  return found
}
const mockupNow = async () => {
  const found = Object.values((await sheetNow()).nodes).find((node) => hasContent(node, 'mockup'))
  if (!found || !hasContent(found, 'mockup')) throw new Error('no mock-up is at work')
  return found.content
}
const settled = async (label: string, places: readonly (readonly [number, number])[]) => {
  let last = ''
  let since = Date.now()
  return page.until(`${label} rests`, async () => {
    const now = JSON.stringify(await Promise.all(places.map(([x, y]) => page.pixel(label, x, y))))
    if (now !== last || now.includes('[]')) {
      last = now
      since = Date.now()
    }
    return Date.now() - since > 3500 && (JSON.parse(now) as number[][])
  })
}
const distance = (a: readonly number[], b: readonly number[]) =>
  Math.hypot(...a.slice(0, 3).map((v, i) => v - b[i]))
const format = async (name: string) =>
  (
    await page.xpath(`//button[contains(@class,"format") and not(contains(@class,"mockup")) and .="${name}"]`)
  ).click()
const titleShown = async () =>
  (await stored()).sheets.find(({ id }) => id === 'tide-fair-a3')?.nodes['tide-fair-title'].visible ?? false
/** Nothing is chosen: keys may sleep where a list has the focus. */
const chooseAll = async () => {
  for (const back of await page.driver.findElements({
    css: '[data-testid=to-page], [data-testid=to-mockup]',
  }))
    await back.click()
}
const press = async (words: string) => (await page.xpath(`//button[normalize-space(.)="${words}"]`)).click()
const pick = async (css: string, value: string) => (await page.css(`${css} option[value="${value}"]`)).click()
const choose = async (name: string) =>
  (await page.xpath(`//ul[@class="page-list"]//button[.="${name}"]`)).click()
const focus = async (css: string) => page.driver.executeScript('arguments[0].focus()', await page.css(css))
const keys = (...pressed: string[]) =>
  page.driver
    .actions()
    .sendKeys(...pressed)
    .perform()
const toggle = async (label: string) =>
  (await page.xpath(`//*[@aria-label="${label}"] | //label[normalize-space(.)="${label}"]//input`)).click()

describe('the start page', () => {
  it('shows the posters as they hang, and opens the one that is pressed', async () => {
    const names = async () =>
      Promise.all((await page.driver.findElements({ css: '.poster-look .name' })).map((own) => own.getText()))
    await page.until('three posters', async () => (await names()).length === 3)
    expect(await names()).toEqual(['Tide Fair', 'The Last Bell', 'Stone and Copper'])
    await page.until(
      'their pictures',
      async () => (await page.driver.findElements({ css: '.poster-look img' })).length === 3,
    )
    await (await page.xpath('//button[.//*[.="Tide Fair"]]')).click()
    await page.css('[data-testid=look-around]')
    expect((await sheetNow()).mockupOf).toBe('tide-fair')
  })
})

describe('a mock-up', () => {
  it('is looked at from elsewhere by dragging and by keys, and back by undo', async () => {
    await settled('Mock-up', [[0.5, 0.5]])
    const before = await mockupNow()
    const around = await (await page.css('[data-testid=look-around]')).getRect()
    const from = {
      x: Math.round(around.x + 0.5 * around.width),
      y: Math.round(around.y + 0.6 * around.height),
    }
    await page.driver
      .actions()
      .move(from)
      .press()
      .move({ x: from.x + 30, y: from.y, duration: 200 })
      .move({ x: from.x + 80, y: from.y + 20, duration: 200 })
      .release()
      .perform()
    await page.until('it is seen from elsewhere', async () => {
      const { azimuthDeg, elevationDeg } = await mockupNow()
      return azimuthDeg < before.azimuthDeg - 5 && elevationDeg > before.elevationDeg
    })
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('it is taken back', async () => (await mockupNow()).azimuthDeg === before.azimuthDeg)
    await focus('[data-testid=look-around]')
    await keys(page.keys.ARROW_RIGHT, page.keys.ARROW_RIGHT, page.keys.ARROW_UP)
    await page.until('it is seen from the other side', async () => {
      const { azimuthDeg, elevationDeg } = await mockupNow()
      return azimuthDeg === before.azimuthDeg + 4 && elevationDeg === before.elevationDeg + 2
    })
    await page.driver
      .actions()
      .keyDown(page.keys.SHIFT)
      .sendKeys(page.keys.ARROW_RIGHT)
      .keyUp(page.keys.SHIFT)
      .perform()
    await page.until('the lights are turned', async () => (await mockupNow()).lightTurnDeg === 5)
  })
  it('is shown otherwise by one press, and follows its page', async () => {
    const SPOT = [0.5, 0.52] as const
    const [pinned] = await settled('Mock-up', [SPOT])
    await page.click('button.stand[title="Framed, under glass"]')
    await page.until('it is framed', async () => (await mockupNow()).stand === 'framed')
    await page.until('it looks so', async () => {
      const [framed] = await settled('Mock-up', [SPOT])
      return distance(pinned, framed) > 3
    })
    // What is changed on its page is changed on paper: the title is hidden there.
    const TITLE = [0.46, 0.25] as const
    const [withTitle] = await settled('Mock-up', [TITLE])
    await format('A3')
    await page.css('.part')
    await choose('TIDE')
    await page.click('[aria-label=Shown]')
    await page.until('the title is hidden', async () => !(await titleShown()))
    await page.click('.series .format.mockup')
    await page.css('[data-testid=look-around]')
    await page.until('it is hidden on paper', async () => {
      const [without] = await settled('Mock-up', [TITLE])
      return distance(withTitle, without) > 30
    })
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('the title is shown again', titleShown)
  })
  it('is begun from a page by a key, lies there after a reload, and is removed again', async () => {
    await format('Square')
    await page.css('.part')
    await keys('m')
    await page.css('[data-testid=look-around]')
    await page.until('it is there', async () => (await sheetNow()).mockupOf === 'tide-fair')
    const made = await sheetNow()
    expect((await mockupNow()).sheetId).toBe('tide-fair-square')
    await page.driver.navigate().refresh()
    await page.css('[data-testid=look-around]')
    expect((await sheetNow()).id).toBe(made.id)
    await keys(page.keys.ESCAPE)
    await page.click('[data-testid=remove-mockup]')
    await page.until('it is gone', async () => !(await stored()).sheets.some(({ id }) => id === made.id))
  })
  it('lies in a picture of one’s own by four corners, moved and bent by keys', async () => {
    const wall = await sharp({ create: { width: 400, height: 300, channels: 3, background: '#808890' } })
      .png()
      .toBuffer()
    const file = path.join(page.downloads, 'wall.png')
    writeFileSync(file, wall)
    await page.click('.series .format.mockup')
    await page.css('[data-testid=look-around]')
    await (await page.driver.findElement({ css: '[data-testid=picture-input]' })).sendKeys(file)
    await page.until('the picture lies there', async () =>
      Object.values((await sheetNow()).nodes).some(({ content }) => content.kind === 'picture'),
    )
    await press('In a picture')
    await page.until('it is fitted', async () =>
      Object.values((await sheetNow()).nodes).some(({ content }) => content.kind === 'fitted'),
    )
    const fitted = async () => {
      const found = Object.values((await sheetNow()).nodes).find((node) => hasContent(node, 'fitted'))
      if (!found || !hasContent(found, 'fitted')) throw new Error('nothing is fitted')
      return found.content
    }
    const before = await fitted()
    await focus('[title="Upper left corner"]')
    await keys(page.keys.ARROW_LEFT, page.keys.ARROW_LEFT)
    await page.until(
      'its corner is moved',
      async () => Math.abs((await fitted()).corners[0][0] - before.corners[0][0] + 2 / 2400) < 1e-6,
    )
    await press('Bend')
    await focus('[title="Place 2 across, 1 down of the mesh"]')
    await page.driver
      .actions()
      .keyDown(page.keys.SHIFT)
      .sendKeys(page.keys.ARROW_DOWN)
      .keyUp(page.keys.SHIFT)
      .perform()
    await page.until('it is bent', async () => Math.abs((await fitted()).bends[1][1] - 10 / 1800) < 1e-6)
    await press('Measure')
    const proof = await (await page.css('[data-testid=proof]')).getRect()
    await page.driver
      .actions()
      .move({ x: Math.round(proof.x + 0.04 * proof.width), y: Math.round(proof.y + 0.04 * proof.height) })
      .click()
      .perform()
    await page.until('the surface is measured', async () => Math.abs((await fitted()).white - 0.8) > 0.02)
    for (let i = 0; i < 6; i++) await page.chord(page.keys.CONTROL, 'z')
  })
  it('leaves as a picture of its size', async () => {
    await page.driver.navigate().refresh()
    await page.css('[data-testid=look-around]')
    await keys(page.keys.ESCAPE)
    for (const [side, pixels] of [
      ['Width', '1200'],
      ['Height', '900'],
    ]) {
      const field = await page.xpath(
        `//aside//div[label[normalize-space(.)="${side}"]]//input[@inputmode="decimal"]`,
      )
      await field.click()
      await field.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), pixels, page.keys.ENTER)
    }
    await page.until('it is smaller', async () => {
      const { width, height } = await sheetNow()
      return width === 1200 && height === 900
    })
    await (await page.css('#mockup-format option[value=jpeg]')).click()
    await page.click('[data-testid=export-poster]')
    await page.until(
      'it is written',
      async () => (await page.driver.findElements({ css: '[data-testid=poster-told]' })).length > 0,
      240_000,
    )
    const bytes = await page.download('Tide Fair_Harbour wall.jpg')
    const { width, height, format } = await sharp(bytes).metadata()
    expect([width, height, format]).toEqual([1200, 900, 'jpeg'])
  })
})

describe('inks of one’s own', () => {
  it('are put on a page by one press, their plates seen alone and written together, one file each', async () => {
    // A small format: its plates are soon written.
    await format('Square')
    await page.css('.part')
    await keys(page.keys.ESCAPE)
    const SPOTS = [
      [0.5, 0.5],
      [0.6, 0.6],
      [0.5, 0.4],
      [0.4, 0.75],
    ] as const
    const seen = () => Promise.all(SPOTS.map(([x, y]) => page.pixel('Page', x, y)))
    const before = await settled('Page', SPOTS)
    await toggle('In own inks')
    await page.css('.ink-list')
    await page.until('it is printed', async () =>
      (await seen()).some((now, i) => now.length > 0 && distance(before[i], now) > 4),
    )
    await page.click('[aria-label="See the plate of Red alone"]')
    await page.until('the plate is grey', async () =>
      (await seen()).every(([r, g, b]) => r !== undefined && Math.max(r, g, b) - Math.min(r, g, b) <= 1),
    )
    await page.click('[aria-label="See the plate of Red alone"]')
    await pick('#poster-format', 'platesPng')
    await page.click('[data-testid=export-poster]')
    await page.until(
      'they are written',
      async () => (await page.driver.findElements({ css: '[data-testid=poster-told]' })).length > 0,
    )
    const told = await (await page.css('[data-testid=poster-told]')).getText()
    expect(told).toContain('Tide Fair.zip is with your downloads')
    const plates = unzipSync(new Uint8Array(await page.download('Tide Fair.zip')))
    expect(Object.keys(plates)).toEqual(['Tide Fair_Square_1_Red.png', 'Tide Fair_Square_2_Deep blue.png'])
    for (const plate of Object.values(plates)) {
      const { width, height } = await sharp(plate).metadata()
      expect([width, height]).toEqual([1080, 1080])
    }
    const slip = await page.xpath('//div[label[.="Misregister"]]//input[@inputmode="decimal"]')
    await page.driver.executeScript('arguments[0].focus()', slip)
    await keys('1.5', page.keys.ENTER)
    await page.until('it is printed beside its marks', async () =>
      (await stored()).sheets.some(({ page: own }) => own?.inks?.slipMm === 1.5),
    )
    const name = await page.css('[aria-label="Name of Red"]')
    await name.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), 'Ember', page.keys.ENTER)
    await page.until('it is named', async () =>
      (await stored()).sheets.some(({ page: own }) => own?.inks?.list[0].name === 'Ember'),
    )
  })
  it('are seen on their paper’s white, and nothing of the page changes', async () => {
    const document = JSON.stringify(await sheetNow())
    await toggle('Soft proof')
    const filter = await page.driver.executeScript<string>(
      'return getComputedStyle(document.querySelector("[data-testid=proof]").parentElement).filter',
    )
    expect(filter).toContain('soft-proof')
    expect(JSON.stringify(await sheetNow())).toBe(document)
    await toggle('Soft proof')
    await toggle('In own inks')
    await format('A3')
    await page.css('.part')
  })
})

describe('type among the things of the shot', () => {
  const typeNow = async (name: string) => {
    const found = Object.values((await sheetNow()).nodes).find((node) => node.name === name)
    if (!found || !hasContent(found, 'type')) throw new Error(`no type ${name}`)
    return found
  }
  it('lies on the surface that is pressed, cut to it, and is moved over it by keys', async () => {
    await keys('t')
    await (await page.css('[data-testid=type-text]')).sendKeys('LOW WATER')
    await keys(page.keys.ESCAPE)
    await pick('#type-lies', 'surface')
    const proof = await (await page.css('[data-testid=proof]')).getRect()
    await page.driver
      .actions()
      .move({ x: Math.round(proof.x + 0.55 * proof.width), y: Math.round(proof.y + 0.8 * proof.height) })
      .click()
      .perform()
    await page.until('it lies there', async () => {
      const { content } = await typeNow('LOW WATER')
      return hasContent({ content } as never, 'type') && (content as { plane?: unknown }).plane !== undefined
    })
    const laid = await typeNow('LOW WATER')
    expect(laid.mask?.terms[0]).toMatchObject({ kind: 'parts' })
    const at = hasContent(laid, 'type') ? laid.content.plane?.at : undefined
    await focus('[title="Move LOW WATER over its surface"]')
    await keys(page.keys.ARROW_LEFT, page.keys.ARROW_LEFT)
    await page.until('it is moved', async () => {
      const moved = await typeNow('LOW WATER')
      return hasContent(moved, 'type') && JSON.stringify(moved.content.plane?.at) !== JSON.stringify(at)
    })
    await pick('#type-lies', 'way')
    await focus('[title="Place 2 of the way"]')
    await keys(page.keys.ARROW_UP)
    const along = await typeNow('LOW WATER')
    expect(hasContent(along, 'type') && along.content.way?.length).toBe(3)
    await pick('#type-lies', 'frame')
  })
  it('keeps a style under a name, sets another block in it, and changes it for all', async () => {
    await pick('#type-style', 'keep')
    await (await page.css('[aria-label="Name of the style"]')).sendKeys('Notice', page.keys.ENTER)
    await page.until('it is kept', async () => (await stored()).typeStyles.length === 1)
    const [style] = (await stored()).typeStyles
    await chooseAll()
    await choose('9 AUGUST')
    await pick('#type-style', style.id)
    const before = await typeNow('9 AUGUST')
    expect(hasContent(before, 'type') && before.content.styleId).toBe(style.id)
    await chooseAll()
    await choose('LOW WATER')
    const colour = await page.xpath('//*[label[.="Colour"]]//input[@type="color"]')
    await page.driver.executeScript(
      `const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set
       set.call(arguments[0], '#3366aa')
       arguments[0].dispatchEvent(new Event('input', { bubbles: true }))`,
      colour,
    )
    await page.until('it differs', async () =>
      (await (await page.css('[data-testid=style-differs]')).getText()).includes('colour'),
    )
    await press('Change it for all')
    await page.until('all follow', async () => {
      const own = await typeNow('9 AUGUST')
      return hasContent(own, 'type') && own.content.colour === '#3366aa'
    })
  })
  it('throws its shadow by one press, and none by another', async () => {
    await chooseAll()
    await choose('TIDE')
    await page.click('[data-testid=throw-shadow]')
    await page.until('its shadow lies there', async () =>
      Object.values((await sheetNow()).nodes).some(
        ({ content }) => content.kind === 'castShadow' && content.of === 'tide-fair-title',
      ),
    )
    await page.click('[data-testid=throw-shadow]')
    await page.until('it is gone', async () =>
      Object.values((await sheetNow()).nodes).every(({ content }) => content.kind !== 'castShadow'),
    )
  })
})
