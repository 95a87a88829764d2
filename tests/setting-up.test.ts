import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { encode } from 'fast-png'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { BenchPage } from './bench-page'

/** A shed as modelling programs leave it: in millimetres, Z up, some faces turned over, a double one, loose ends. */
function shed(postNames: (i: number) => string, posts = 5): string {
  const lines = ['mtllib shed.mtl']
  let vertices = 0
  const box = (
    name: string,
    material: string,
    min: number[],
    max: number[],
    turned: readonly number[] = [],
  ) => {
    const corners = [
      [0, 0, 0],
      [1, 0, 0],
      [1, 1, 0],
      [0, 1, 0],
      [0, 0, 1],
      [1, 0, 1],
      [1, 1, 1],
      [0, 1, 1],
    ]
    lines.push(`o ${name}`, `usemtl ${material}`)
    for (const corner of corners)
      lines.push(`v ${corner.map((share, axis) => min[axis] + share * (max[axis] - min[axis])).join(' ')}`)
    const faces = [
      [1, 4, 3, 2],
      [5, 6, 7, 8],
      [1, 2, 6, 5],
      [2, 3, 7, 6],
      [3, 4, 8, 7],
      [4, 1, 5, 8],
    ]
    faces.forEach((face, f) => {
      const round = turned.includes(f) ? [...face].reverse() : face
      lines.push(`f ${round.map((v) => vertices + v).join(' ')}`)
    })
    vertices += 8
  }
  box('Wall', 'planks', [-1500, -1000, 0], [1500, 1000, 1800], [0, 3])
  for (let i = 0; i < posts; i++)
    box(postNames(i), 'iron', [-1600 + 750 * i, -1250, 0], [-1500 + 750 * i, -1150, 1790])
  box('Roof', 'slate', [-1800, -1400, 1800], [1800, 1400, 1950])
  lines.push('f 1 2 3 4', 'v 0 0 9000')
  return lines.join('\n') + '\n'
}
const LIBRARY = `newmtl planks
Kd 0.6 0.6 0.6
map_Kd textures\\planks.png
newmtl iron
Kd 0.15 0.16 0.17
newmtl slate
Kd 0.2 0.25 0.3
map_Kd textures/lost.png
`
const picture = (side: number, colour: (x: number, y: number) => readonly number[]) => {
  const data = new Uint8Array(3 * side * side)
  for (let p = 0; p < side * side; p++) data.set(colour(p % side, Math.floor(p / side)), 3 * p)
  return encode({ width: side, height: side, data, channels: 3 })
}

const root = mkdtempSync(path.join(tmpdir(), 'relief-setting-up-'))
const folder = path.join(root, 'shed')
let page: BenchPage

beforeAll(async () => {
  mkdirSync(path.join(folder, 'textures'), { recursive: true })
  writeFileSync(
    path.join(folder, 'shed.obj'),
    shed((i) => `Post.00${i}`),
  )
  writeFileSync(path.join(folder, 'shed.mtl'), LIBRARY)
  writeFileSync(
    path.join(folder, 'textures', 'planks.png'),
    picture(8, (_x, y) => (y % 4 < 2 ? [190, 130, 70] : [150, 100, 50])),
  )
  writeFileSync(path.join(folder, 'broken.glb'), 'this is no model')
  writeFileSync(path.join(folder, 'notes.txt'), 'to be done')
  writeFileSync(
    path.join(root, 'quay.png'),
    picture(30, (x, y) => (y < 10 ? [40, 60, 110] : x < 15 ? [200, 90, 50] : [240, 210, 130])),
  )
  writeFileSync(
    path.join(root, 'shed-2.obj'),
    shed((i) => `Post.00${i}`, 4).replace('o Roof', 'o Roof\no Vane'),
  )
  page = await BenchPage.open()
})
afterAll(async () => {
  await page?.close()
})

/** Keys where the focus is, as a person without a mouse presses them. */
const keys = (...pressed: string[]) =>
  page.driver
    .actions()
    .sendKeys(...pressed)
    .perform()
const withKey = (held: string, ...pressed: string[]) =>
  page.driver
    .actions()
    .keyDown(held)
    .sendKeys(...pressed)
    .keyUp(held)
    .perform()
/** Runs an action by its name. */
const find = async (name: string) => {
  await page.chord(page.keys.CONTROL, 'k')
  await page.css('[role=dialog] input')
  await keys(name)
  await keys(page.keys.ENTER)
}
const rows = async () =>
  page.driver.executeScript<string[]>(
    `return [...document.querySelectorAll('[role=treeitem] .name')].map((e) => e.textContent)`,
  )
const findings = async () =>
  page.driver.executeScript<string[]>(
    `return [...document.querySelectorAll('.findings li[data-code]')].map((e) => e.dataset.code)`,
  )

describe('from an untidy folder to a lit, locked shot', () => {
  it('takes a folder in, with all that belongs to the model, and says what was wrong', async () => {
    await page.driver.get(page.address)
    await page.click('[data-testid=new-project]')
    await (await page.css('[data-testid=folder-input]')).sendKeys(folder)
    const report = await page.css('.import-report')
    await page.until('the report is whole', async () => /Missing/.test(await report.getText()))
    const text = await report.getText()
    expect(text).toMatch(/1 model came in\. One file was not added\./)
    expect(text).toMatch(/broken\.glb: is not a GLB/)
    expect(text).toMatch(/lost\.png was not given/)
    expect(text).not.toMatch(/notes\.txt/)
    expect(await page.bodyText()).toContain('7 parts, 43 polygons')
    expect(await findings()).toEqual(
      expect.arrayContaining(['empty-faces', 'turned-faces', 'lies-on-side', 'loose-vertices', 'size']),
    )
  })

  it('mends by keyboard; each repair can be taken back', async () => {
    await page.press('x')
    await page.until('no fault is left', async () => /Nothing amiss/.test(await page.bodyText()))
    expect(await page.bodyText()).toContain('7 parts, 42 polygons')
    await find('mend: change the unit')
    await page.until('it is in metres', async () => /Size\s*3\.6 × 1\.95 × 2\.8/.test(await page.bodyText()))
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('undo makes it millimetres', async () =>
      /3,600 × 1,950 × 2,800/.test(await page.bodyText()),
    )
    await find('do again')
    await page.until('and again metres', async () => /3\.6 × 1\.95 × 2\.8/.test(await page.bodyText()))
    await page.saved()
  })

  it('searches, ranges, renames and groups by keyboard', async () => {
    await page.press('/')
    await keys('post')
    await page.until('five posts are found', async () => (await rows()).length === 6)
    await keys(page.keys.ARROW_DOWN)
    await keys(page.keys.ARROW_DOWN)
    await withKey(page.keys.SHIFT, page.keys.END)
    await page.until('five are chosen', async () => /^5 parts/m.test(await page.bodyText()))
    await keys('r')
    await page.css('[role=dialog] input')
    await keys('Post.00', page.keys.TAB, 'Pillar ', page.keys.ENTER)
    await page.press('/')
    await keys(page.keys.ESCAPE)
    await page.press('g')
    await page.until('they are in a group under new names', async () =>
      (await rows()).join().startsWith('Group 1,Pillar 0,Pillar 1,Pillar 2,Pillar 3,Pillar 4,shed,Wall'),
    )
    await withKey(page.keys.SHIFT, 'U')
    await page.until(
      'they are unseen',
      async () => (await page.driver.findElements({ css: 'select[data-role=unseen]' })).length === 5,
    )
    await page.chord(page.keys.CONTROL, 'z')
    await page.until(
      'or not',
      async () => (await page.driver.findElements({ css: 'select[data-role=unseen]' })).length === 0,
    )
    await keys(page.keys.ESCAPE)
  })

  it('moves a part into a group by dragging it, and undo moves it back', async () => {
    const from = await page.text('span', 'Roof')
    const to = await page.text('span', 'Group 1')
    await page.driver
      .actions()
      .move({ origin: from })
      .press()
      .move({ origin: from, x: 4, y: 4 })
      .pause(100)
      .move({ origin: to, x: 6, y: 4 })
      .pause(150)
      .move({ origin: to })
      .pause(150)
      .release()
      .perform()
    await page.until(
      'the roof is in the group',
      async () => (await rows()).indexOf('Roof') < (await rows()).indexOf('shed'),
    )
    await page.chord(page.keys.CONTROL, 'z')
    await page.until(
      'and out of it',
      async () => (await rows()).indexOf('Roof') > (await rows()).indexOf('shed'),
    )
    await page.press(page.keys.ESCAPE)
  })

  it('chooses a part by pressing it in the view', async () => {
    const view = await page.css('[data-testid=models-view]')
    await page.until('the view has drawn', async () => {
      await page.driver.actions().move({ origin: view }).click().perform()
      return (await page.driver.findElements({ css: '[role=treeitem][aria-selected=true]' })).length === 1
    })
    await page.press(page.keys.ESCAPE)
  })

  it('takes a palette of a picture and gives it to the materials, in a scheme to go back from', async () => {
    await (await page.css('[data-testid=reference-input]')).sendKeys(path.join(root, 'quay.png'))
    await page.css('.reference img')
    await withKey(page.keys.SHIFT, 'M')
    const select = await page.css('[data-testid=take-palette]')
    await select.sendKeys('quay')
    await page.css('.palette')
    await page.click('[data-testid=add-scheme]')
    const colours = () =>
      page.driver.executeScript<string[]>(
        `return [...document.querySelectorAll('.material .swatch')].map((e) => e.value)`,
      )
    const before = await colours()
    await (await page.text('button', 'Match')).click()
    await page.until(
      'the materials wear other colours',
      async () => (await colours()).join() !== before.join(),
    )
    for (const colour of await colours()) expect(colour).toMatch(/^#(28|c8|f0|3c|5a)/)
    await (await page.text('button', 'Scheme 1')).click()
    await page.until('the first scheme is as it was', async () => (await colours()).join() === before.join())
    await (await page.text('button', 'Scheme 2')).click()
    await page.saved()
  })

  it('stands it on a pedestal and places it by number', async () => {
    await withKey(page.keys.SHIFT, 'P')
    await (await page.text('button', 'Pedestal')).click()
    await page.until('the pedestal is there', async () => (await rows()).includes('Pedestal'))
    const turn = await page.xpath('//aside//div[label="Turn"]//input[@inputmode="decimal"]')
    await turn.click()
    await turn.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), '20', page.keys.ENTER)
    await page.saved()
  })

  it('replaces the model by a newer file, and lists what has no like', async () => {
    await (await page.text('span', 'shed')).click()
    await withKey(page.keys.SHIFT, 'R')
    await (await page.text('button', 'Replace by a newer file')).click()
    await (await page.css('[data-testid=model-input]')).sendKeys(path.join(root, 'shed-2.obj'))
    const report = await page.css('.import-report')
    await page.until('what did not match is listed', async () => /no longer has/.test(await report.getText()))
    const text = await report.getText()
    expect(text).toMatch(/The model was replaced/)
    expect(text).toMatch(/Pillar 4/)
    expect(await rows()).toEqual(
      expect.arrayContaining(['Group 1', 'Pillar 0', 'Pillar 3', 'Vane', 'Pedestal']),
    )
    expect(await rows()).not.toContain('Pillar 4')
    await page.saved()
  })

  it('frames, locks and keeps the shot by keyboard; what is locked offers another', async () => {
    await page.chord(page.keys.CONTROL, '2')
    await page.css('[data-testid=shot-view]')
    await withKey(page.keys.ALT, '1')
    await page.press('f')
    const stands = async () => (await page.css('[data-testid=stands-at]')).getText()
    await page.until(
      'it looks from three quarters',
      async () => (await stands()) === '−35°, 18° up' || /-35°, 18° up/.test(await stands()),
    )
    await page.press('l')
    await page.text('button', 'Unlock the shot')
    const before = await stands()
    await page.press(page.keys.ARROW_LEFT)
    const alert = await page.css('.over-view[role=alert]')
    expect(await alert.getText()).toMatch(/locked/)
    expect(await stands()).toBe(before)
    await page.press('n')
    await page.until('a second shot is begun', async () => /Shot 2\. Not locked/.test(await page.bodyText()))
    await page.press(page.keys.ARROW_LEFT)
    await page.until('which moves', async () => (await stands()) !== before)
    await page.press(',')
    await page.until('the first stands as it was', async () => (await stands()) === before)
  })

  it('lights it, places a light by keys, and sees the pass while composing', async () => {
    await withKey(page.keys.SHIFT, 'L')
    await (await page.css('[data-testid=rig]')).sendKeys('Low raking')
    await page.text('span', 'Rake')
    const light = await page.css('[data-light]')
    await page.driver.executeScript('arguments[0].focus()', light)
    const said = async () => (await page.css('[data-light]')).getAttribute('aria-label')
    const before = await said()
    await keys(page.keys.ARROW_UP, page.keys.ARROW_UP)
    await page.until('the light stands higher', async () => (await said()) !== before)
    const done = async () =>
      (await (await page.css('[data-testid=shot-view]')).getAttribute('data-live')) === 'done'
    await page.until('clay is rendered over the view', done)
    /** Mean and spread of the preview's brightness. */
    const look = () =>
      page.driver.executeScript<[number, number]>(
        `const c = document.querySelector('[data-testid=live-preview]');
         const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
         let n = 0, sum = 0, squares = 0;
         for (let i = 0; i < d.length; i += 4) if (d[i + 3] > 250) { n++; sum += d[i]; squares += d[i] * d[i] }
         return [sum / n, Math.sqrt(squares / n - (sum / n) ** 2)]`,
      )
    const [mean, spread] = await look()
    expect(spread).toBeGreaterThan(8)
    // Strength is live: no ray is sent for it.
    const strength = await page.xpath('//aside//div[label="Strength"]//input[@inputmode="decimal"]')
    await strength.click()
    await strength.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), '0.3', page.keys.ENTER)
    await page.until('it is darker at once', async () => (await look())[0] < mean - 5)
    await page.saved()
  })

  it('renders it, and everything is there after a reload', async () => {
    await page.chord(page.keys.CONTROL, '3')
    await page.click('[data-testid=pass-clay]')
    await page.driver.navigate().refresh()
    await page.css('[data-testid=pass-clay]')
    await page.chord(page.keys.CONTROL, '1')
    await page.until('the parts are there', async () => (await rows()).includes('Pillar 3'))
    await page.chord(page.keys.CONTROL, '2')
    await page.until('and the shots', async () => /Shot 2/.test(await page.bodyText()))
    await page.text('button', 'Unlock the shot')
  })
})
