import { zipSync } from 'fflate'
import { writeFileSync } from 'node:fs'
import path from 'node:path'
import { afterAll, beforeAll, expect, it } from 'vitest'
import { strToU8 } from 'fflate'
import { writePng } from '@/core/formats/png'
import type { Project } from '@/data/project-schema'
import { BenchPage } from './bench-page'
import { storedProject } from './stored-project'

let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.openDemoSheet()
})
afterAll(async () => {
  await page?.close()
})

const stored = async (): Promise<Project> => {
  await page.saved()
  return storedProject(page, 'low-water')
}
const input = async (name: string, bytes: Uint8Array): Promise<void> => {
  const file = path.join(page.downloads, name)
  writeFileSync(file, bytes)
  await (await page.css('[data-testid=picture-input]')).sendKeys(file)
}

it('opens layers and groups of an OpenRaster file where they lay, as one step', async () => {
  const even = (r: number, g: number, b: number) =>
    writePng(
      120,
      75,
      Uint8ClampedArray.from({ length: 4 * 120 * 75 }, (_, i) => [r, g, b, 255][i % 4]),
    )
  const xml = `<image w="120" h="75"><stack>
    <stack name="Inks" composite-op="svg:multiply" opacity="0.5"><layer name="Blue" src="data/b.png" x="60"/></stack>
    <layer name="Paper" src="data/a.png"/>
    <layer name="Odd" src="data/a.png" composite-op="svg:src-out" visibility="hidden"/>
  </stack></image>`
  await input(
    'tide notes.ora',
    zipSync({
      mimetype: strToU8('image/openraster'),
      'stack.xml': strToU8(xml),
      'data/a.png': even(200, 180, 160),
      'data/b.png': even(0, 0, 255),
    }),
  )
  await page.css('[data-testid="card-Inks"], .tray')
  await page.until('paper at the left, ink over it at the right', async () => {
    const [left, right] = [await page.pixel('Proof', 0.2, 0.5), await page.pixel('Proof', 0.8, 0.5)]
    return left.join() === '200,180,160,255' && right.join() === '100,90,160,255'
  })
  expect(await page.bodyText()).toContain('Odd is blended normally: svg:src-out is not known here')
  const { sheets, pictures } = await stored()
  const nodes = Object.values(sheets[0].nodes)
  const group = nodes.find(({ name }) => name === 'tide notes')
  expect(group?.content).toMatchObject({ kind: 'group', isolated: true })
  expect(nodes.find(({ name }) => name === 'Odd')?.visible).toBe(false)
  expect(pictures.filter(({ name }) => ['Paper.png', 'Blue.png', 'Odd.png'].includes(name))).toHaveLength(3)
  await page.chord(page.keys.CONTROL, 'z')
  await page.until('all of it is gone', async () =>
    Object.values((await stored()).sheets[0].nodes).every(
      ({ name }) => name !== 'tide notes' && name !== 'Paper',
    ),
  )
})

it('refuses a broken one by name, and changes nothing', async () => {
  const before = (await stored()).sheets
  await input('torn.ora', zipSync({ mimetype: strToU8('image/openraster'), 'stack.xml': strToU8('<image') }))
  await page.until('it says what is wrong', async () =>
    /torn\.ora: stack\.xml: line 1/.test(await page.bodyText()),
  )
  expect((await stored()).sheets).toEqual(before)
})

it('presses what is seen with its progress, and takes a cancel without a trace', async () => {
  const before = (await stored()).sheets
  await page.driver.executeScript(
    `window.bars = []
     new MutationObserver(() => {
       const bar = document.querySelector('[data-testid=work-bar]')
       if (!bar) return
       bars.push(bar.textContent)
       if (window.cancelNext) { window.cancelNext = false; bar.querySelector('button').click() }
     }).observe(document.body, { subtree: true, childList: true, characterData: true })
     window.cancelNext = true`,
  )
  await page.press(page.keys.ESCAPE)
  await page.driver.actions().keyDown(page.keys.SHIFT).sendKeys('p').keyUp(page.keys.SHIFT).perform()
  await page.until('it was under way', () =>
    page.driver.executeScript<boolean>(
      `return bars.length > 0 && !document.querySelector('[data-testid=work-bar]')`,
    ),
  )
  expect((await stored()).sheets).toEqual(before)
  await page.driver.actions().keyDown(page.keys.SHIFT).sendKeys('p').keyUp(page.keys.SHIFT).perform()
  await page.css('[data-testid="card-Pressing"]')
  const told = await page.driver.executeScript<string[]>('return bars')
  expect(told.some((text) => /Pressing, \d+ %Cancel/.test(text))).toBe(true)
  await page.chord(page.keys.CONTROL, 'z')
})

it('says when there is no room to store a pressing in, and leaves everything as it was', async () => {
  const before = (await stored()).sheets
  await page.fillStorage('save-file')
  await page.driver.navigate().refresh()
  await page.css('canvas[aria-label=Proof]')
  const press = () =>
    page.driver.actions().keyDown(page.keys.SHIFT).sendKeys('p').keyUp(page.keys.SHIFT).perform()
  await press()
  await page.until('it is told in words', async () =>
    /no room left to save in\. Export the project/.test(await page.bodyText()),
  )
  expect((await stored()).sheets).toEqual(before)
  expect(await page.driver.findElements({ css: '[data-testid="card-Pressing"]' })).toHaveLength(0)
  // With room again the same works.
  await page.driver.executeScript('window.isFull = false')
  await press()
  await page.css('[data-testid="card-Pressing"]')
  await page.chord(page.keys.CONTROL, 'z')
  await page.saved()
})
