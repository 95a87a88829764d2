// One file: one long session in a browser: starting it costs more than any of its tests.
import { layersOf } from '@/core/sheet/sheet-tree'
import { readdirSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { BenchPage } from './bench-page'
import { blockProject, fileWriter, frameShot } from './block-model'
import { openId, replaceStored, storedProject } from './stored-project'

/** What breaks when it is used hard: by pointer, by keyboard, in two tabs, left in the middle of everything. */
let page: BenchPage
let id = ''
const file = fileWriter()

beforeAll(async () => {
  page = await BenchPage.open()
})
afterAll(async () => {
  await page?.close()
})

const stored = () => storedProject(page, id)
const cards = async () => (await page.driver.findElements({ css: '.card' })).length
const go = async (step: string) => {
  await page.click(`.rail a[href$="/${step}"]`)
  await page.css(`.rail a[href$="/${step}"][aria-current=page]`)
  // Its actions are offered a moment after it is shown.
  await page.driver.sleep(120)
}
const focus = (css: string) => page.driver.executeScript('document.querySelector(arguments[0]).focus()', css)
/** Keys to what has the focus. */
const type = (...keys: string[]) =>
  page.driver
    .actions()
    .sendKeys(...keys)
    .perform()
const rendered = (count: number) =>
  page.until(
    `${count} passes are ready`,
    async () =>
      (await page.driver.findElements({ css: '.contact-cell[data-state=ready]' })).length >= count &&
      !/Rendering|Preparing|In the queue/.test(await page.bodyText()),
  )
/** A row of the inspector by its label. */
const row = (label: string) => page.xpath(`//aside//div[contains(@class,"row")][label[text()="${label}"]]`)

describe('a project under hard use', () => {
  it('begins as any other', async () => {
    await blockProject(page, file)
    id = await openId(page)
    await frameShot(page, 160, 100)
    await go('passes')
    await page.click('[data-testid=render-draft]')
    await rendered(6)
    await page.click('[data-testid=first-stack]')
    await page.until('its cards hang', async () => (await cards()) === 7)
    await page.saved()
  })

  it('keeps a part’s role while it is hidden, and says when nothing is left to see', async () => {
    await go('models')
    const roleOf = async (name: string) => {
      await page.saved()
      const found = (await stored()).models[0].parts.find((p) => p.name === name)
      return `${found?.role} ${found?.hidden}`
    }
    await page.click('select[aria-label="Role of Plate"] option:nth-child(2)')
    await page.until('it is ground', async () => (await roleOf('Plate')) === 'ground false')
    await page.click('[aria-label="Hide Plate"]')
    await page.until('it is hidden', async () => (await roleOf('Plate')) === 'ground true')
    await page.click('[aria-label="Hide Block"]')
    await go('passes')
    const nothing = await page.css('[data-testid=nothing-to-render]')
    expect(await nothing.getText()).toMatch(/every part is hidden or off/)
    expect(await (await page.css('[data-testid=render-draft]')).isEnabled()).toBe(false)
    await go('models')
    await page.click('[aria-label="Show Block"]')
    await page.click('[aria-label="Show Plate"]')
    await page.until('it is ground again', async () => (await roleOf('Plate')) === 'ground false')
    await page.click('select[aria-label="Role of Plate"] option:nth-child(1)')
    await page.until('and subject', async () => (await roleOf('Plate')) === 'subject false')
  })

  it('refuses a model without area where it is brought in', async () => {
    const flat = file('flat.obj', 'v 0 0 0\nv 1 0 0\nv 2 0 0\nf 1 2 3\n')
    await (await page.css('[data-testid=model-input]')).sendKeys(flat)
    const alert = await page.css('.import-report[role=alert]')
    expect(await alert.getText()).toMatch(/flat\.obj: holds 1 polygon, and none has an area/)
    await page.xpath('//div[contains(@class,"import-head")]//button').then((b) => b.click())
    expect((await stored()).models).toHaveLength(1)
  })

  it('does not move a locked shot by any control', async () => {
    await go('shot')
    await page.press('l')
    await page.text('button', 'Unlock the shot')
    await page.saved()
    const before = (await stored()).shots[0]
    for (const label of ['Roll', 'Shift right', 'Margin', 'Width', 'Print at']) {
      const slider = await (await row(label)).findElement({ css: '.MuiSlider-root' })
      const { x, y, width, height } = await slider.getRect()
      await page.driver
        .actions()
        .move({ x: Math.round(x + width * 0.8), y: Math.round(y + height / 2) })
        .press()
        .release()
        .perform()
      expect(await (await (await row(label)).findElement({ css: 'input[type=range]' })).isEnabled()).toBe(
        false,
      )
    }
    await page.saved()
    expect((await stored()).shots[0]).toEqual(before)
    await page.press('l')
    await page.text('button', 'Lock the shot')
  })

  it('keeps paper in proportion where it cannot be that large', async () => {
    const size = await page.xpath('//label[text()="Size for"]/following-sibling::select')
    await (await size.findElement({ css: 'option[value="A2|false"]' })).click()
    const dpi = await (await row('Print at')).findElement({ css: 'input.scrub' })
    await dpi.click()
    await dpi.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), '1200', page.keys.ENTER)
    const note = await page.css('[data-testid=paper-at-most]')
    expect(await note.getText()).toMatch(/A2 is at its largest.*700 dpi/s)
    await page.saved()
    const { frame } = (await stored()).shots[0]
    expect(frame.width / frame.height).toBeCloseTo(420 / 594, 3)
    await page.chord(page.keys.CONTROL, 'z')
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('the old size is back', async () => {
      await page.saved()
      return (await stored()).shots[0].frame.width === 160
    })
  })

  it('follows its shot with the sheet, or says that they differ; nothing is stretched', async () => {
    const set = async (label: string, value: string) => {
      const field = await (await row(label)).findElement({ css: 'input.scrub' })
      await field.click()
      await field.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), value, page.keys.ENTER)
      await page.saved()
    }
    await set('Width', '100')
    expect((await stored()).sheets[0]).toMatchObject({ width: 100, height: 100 })
    await page.chord(page.keys.CONTROL, 'z')
    await go('sheet')
    await page.press('s')
    await set('Width', '80')
    await page.text('button', 'Follow')
    const clear = async () => (await page.pixel('Proof', 0.5, 0.02))[3]
    // The picture, 160 × 100, lies whole on 80 × 100: the ground layer fills all, the clay the middle alone.
    await page.click('[data-testid="card-Ground"]')
    await page.press('h')
    await page.press('s')
    const background = await page.css('input[aria-label="Background"]')
    await background.click()
    await page.until('nothing lies above it', async () => (await clear()) === 0)
    await (await page.text('button', 'Crop')).click()
    await page.saved()
    expect((await stored()).sheets[0].fit).toBe('crop')
    await (await page.text('button', 'Follow')).click()
    await page.saved()
    expect((await stored()).sheets[0]).toMatchObject({ width: 160, height: 100 })
    for (let i = 0; i < 5; i++) await page.chord(page.keys.CONTROL, 'z')
    await page.until('all is as it was', async () => {
      await page.saved()
      const { sheets } = await stored()
      return sheets[0].width === 160 && layersOf(sheets[0])[0].visible && sheets[0].background !== null
    })
  })

  it('lets no key act behind an open menu, a dialog or a list', async () => {
    await page.saved()
    const before = await stored()
    await page.click('[data-testid="card-Clay"]')
    await page.click('[data-testid=add-layer]')
    await page.css('[role=menu]')
    await type('h', 'm', 'd', page.keys.DELETE)
    await type(page.keys.ESCAPE)
    await page.until(
      'the menu is gone',
      async () => (await page.driver.findElements({ css: '[role=menu]' })).length === 0,
    )
    await focus('#blend')
    await type('h')
    await page.chord(page.keys.CONTROL, 'k')
    await page.css('[aria-label="Find an action"]')
    await type('d', page.keys.ESCAPE)
    await page.saved()
    const after = await stored()
    expect(layersOf(after.sheets[0]).map((l) => [l.name, l.visible])).toEqual(
      layersOf(before.sheets[0]).map((l) => [l.name, l.visible]),
    )
    // The list itself took the letter: Hard light, or Hue.
    expect(layersOf(after.sheets[0]).find((l) => l.name === 'Clay')?.mode).toMatch(/^h/)
    await page.chord(page.keys.CONTROL, 'z')
  })

  it('gives a slider its arrows and a switch its Delete', async () => {
    await page.click('[data-testid="card-Clay"]')
    const slider = await (await row('Opacity')).findElement({ css: '.MuiSlider-root' })
    const { x, y, width, height } = await slider.getRect()
    await page.driver
      .actions()
      .move({ x: Math.round(x + width / 2), y: Math.round(y + height / 2) })
      .press()
      .release()
      .perform()
    const opacity = async () => {
      await page.saved()
      return layersOf((await stored()).sheets[0]).find((l) => l.name === 'Clay')?.opacity ?? 0
    }
    const first = await opacity()
    await type(page.keys.ARROW_LEFT, page.keys.ARROW_LEFT)
    await page.until('it went down by 2', async () => Math.abs((await opacity()) - (first - 0.02)) < 1e-9)
    expect(await page.css('.card[aria-selected=true]').then((c) => c.getText())).toMatch(/Clay/)
    await focus('input[aria-label="Shown"]')
    await type(page.keys.DELETE)
    await page.saved()
    expect(await cards()).toBe(7)
    // By key from its card a layer goes, and the focus stays in the rack.
    await focus('[data-testid="card-Cavity"]')
    await type(page.keys.DELETE)
    await page.until('one is gone', async () => (await cards()) === 6)
    await page.until('a card has the focus', async () =>
      page.driver.executeScript('return document.activeElement.matches(".card")'),
    )
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('it is back', async () => (await cards()) === 7)
  })

  it('takes a colour back in one step, however long it was looked for', async () => {
    await page.press('s')
    const field = await (await row('Colour')).findElement({ css: 'input[type=color]' })
    const shown = () => field.getAttribute('value')
    const was = await shown()
    // As the browser's own chooser tells the page.
    const choose = (event: 'input' | 'change', value: string) =>
      page.driver.executeScript(
        `const [field, event, value] = arguments
         Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, value)
         field.dispatchEvent(new Event(event, { bubbles: true }))`,
        field,
        event,
        value,
      )
    await choose('input', '#336699')
    await page.driver.sleep(1200)
    await choose('input', '#993366')
    await choose('change', '#993366')
    await page.driver.sleep(1200)
    await choose('input', '#00ff00')
    await choose('change', '#00ff00')
    await page.until('it is the last', async () => (await shown()) === '#00ff00')
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('it is the first', async () => (await shown()) === '#993366')
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('it is as it was', async () => (await shown()) === was)
  })

  it('says so where a mask has lost its source, and proof and export agree', async () => {
    await page.click('[data-testid="card-Ground"]')
    await page.click('[data-testid=add-term]')
    await page.click('[data-testid=term-parts]')
    await (await page.xpath('//div[@class="pick-list"]//label[contains(., "Block")]//input')).click()
    await page.click('[data-testid=term-done]')
    const corner = () => page.pixel('Proof', 0.02, 0.02)
    await page.until('the ground is masked', async () => (await corner()).join() === '255,255,255,255')
    await go('passes')
    await page.click('[data-testid=pass-id]')
    await page.click('[data-testid=remove-pass]')
    await go('sheet')
    await page.click('[data-testid="card-Ground"]')
    expect(await (await page.css('[data-testid=mask-lost]')).getText()).toMatch(
      /was removed: it limits nothing/,
    )
    expect(await (await page.css('[data-testid="card-Ground"]')).getAttribute('textContent')).toMatch(
      /lost its source/,
    )
    await page.until('it limits nothing', async () => (await corner()).join() !== '255,255,255,255')
    const seen = await corner()
    await go('export')
    await page.until('it is told before', async () =>
      /The mask of Ground: .*limits nothing/.test(await page.bodyText()),
    )
    await page.click('[data-testid=export-sheet]')
    const png = await page.download('block_Sheet 1.png')
    const { pixels } = await page.decode(png, [[0.02, 0.02]])
    pixels[0].forEach((v, c) => expect(Math.abs(v - seen[c])).toBeLessThanOrEqual(2))
    await go('sheet')
    await page.chord(page.keys.CONTROL, 'z')
    await page.until(
      'the pass is back, with its mask',
      async () => (await corner()).join() === '255,255,255,255',
    )
  })

  it('writes once what is asked for thrice, and offers lines by name', async () => {
    await go('export')
    await page.css('[data-testid=export-sheet]')
    const files = () => readdirSync(page.downloads).filter((name) => name.endsWith('.zip')).length
    await page.chord(page.keys.SHIFT, 'E')
    await page.chord(page.keys.SHIFT, 'E')
    await page.chord(page.keys.SHIFT, 'E')
    await page.download('block.zip')
    await page.driver.sleep(1500)
    expect(files()).toBe(1)
    await page.chord(page.keys.CONTROL, 'k')
    await (
      await page.css('[aria-label="Find an action"] input, input[aria-label="Find an action"]')
    ).sendKeys('lines')
    await page.until(
      'both are there',
      async () =>
        /Export the lines/.test(await page.bodyText()) && /Show the lines alone/.test(await page.bodyText()),
    )
    await type(page.keys.ESCAPE)
  })

  it('presses with Enter what has the focus, in Passes too', async () => {
    await go('passes')
    await page.css('[data-testid=pass-clay]')
    await page.driver.executeScript(
      `[...document.querySelectorAll('.contact-tools button')].find((b) => b.textContent === 'Lens').focus()`,
    )
    await type(page.keys.ENTER)
    await page.css('.contact-tools [aria-pressed=true]')
    expect(await page.driver.findElements({ css: 'canvas[aria-label$=" pass"]' })).toHaveLength(0)
    await type(page.keys.ENTER)
    await focus('[data-testid=pass-depth], [data-testid=pass-occlusion]')
    await page.press(page.keys.ENTER)
    await page.css('canvas[aria-label$=" pass"]')
    await page.press(page.keys.ENTER)
    await page.css('[data-testid=pass-clay]')
  })

  it('renders again what was good as good, and says what is paused', async () => {
    await page.click('[data-testid=pass-clay]')
    await page.click('[data-testid=one-good]')
    await page.until('clay is good', async () => {
      await page.saved()
      return (await stored()).passes.find((p) => p.kind === 'clay')?.rendered?.quality === 'good'
    })
    await go('shot')
    await page.css('[data-testid=shot-view][data-live=done]')
    await page.press(page.keys.ARROW_LEFT)
    await page.click('[data-testid=render-stale]')
    await go('passes')
    await rendered(6)
    await page.saved()
    const { passes } = await stored()
    expect(passes.find((p) => p.kind === 'clay')?.rendered?.quality).toBe('good')
    expect(passes.find((p) => p.kind === 'occlusion')?.rendered?.quality).toBe('draft')
    // Long enough to be paused in the middle.
    await page.click('[data-testid=pass-clay]')
    for (const label of ['Samples', 'Rays']) {
      const field = await page.xpath(`//aside//div[label="${label}"]//input[@inputmode="decimal"]`)
      await field.click()
      await field.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), '256', page.keys.ENTER)
    }
    await page.click('[data-testid=one-custom]')
    await page.click('[data-testid=pause-job]')
    expect(await (await page.css('[data-testid=stopped-job]')).getText()).toMatch(/^Rendering paused/)
    const rail = await page.css('.rail a[href$="/passes"]')
    await page.until(
      'the rail is at rest',
      async () => (await rail.getAttribute('data-state')) !== 'rendering',
    )
    await page.click('[data-testid=cancel-job]')
  })

  it('exports while it renders, and is whole after a reload in the middle of an export', async () => {
    await page.click('[data-testid=pass-occlusion]')
    await page.click('[data-testid=one-final]')
    await go('export')
    await page.css('[data-testid=export-sheet]')
    page.forget('block_Sheet 1.png')
    await page.click('[data-testid=export-sheet]')
    await page.download('block_Sheet 1.png')
    await go('passes')
    await rendered(6)
    await go('export')
    await page.click('[data-testid=export-archive]')
    await page.driver.navigate().refresh()
    await page.css('[data-testid=export-archive]')
    page.forget('block.zip')
    await page.click('[data-testid=export-archive]')
    const zip = await page.download('block.zip')
    expect(zip.subarray(0, 2).toString()).toBe('PK')
    await page.saved()
    await go('passes')
  })

  it('takes a brush over lines zoomed in as it does at fit', async () => {
    await go('sheet')
    await page.click('[data-testid="card-Contour"]')
    const edits = async () => {
      await page.saved()
      const { content } = layersOf((await stored()).sheets[0]).find((l) => l.name === 'Contour') ?? {}
      return content?.kind === 'pass' ? (content.byHand ?? []) : []
    }
    await page.press(']')
    await page.press(']')
    await page.click('[data-testid=line-draw]')
    const box = await (await page.css('[data-testid=line-brush]')).getRect()
    const stage = await (await page.css('.stage')).getRect()
    const [x, y] = [Math.round(stage.x + stage.width / 2), Math.round(stage.y + stage.height / 2)]
    await page.driver
      .actions()
      .move({ x, y })
      .press()
      .move({ x: x + 60, y, duration: 120 })
      .release()
      .perform()
    await page.until('a line is drawn', async () => (await edits()).length === 1)
    const [line] = await edits()
    // Where the hand was, in heights of the picture.
    expect(line.path[0]).toBeCloseTo((x - box.x) / box.height, 2)
    expect(line.path[1]).toBeCloseTo((y - box.y) / box.height, 2)
    expect(line.path[line.path.length - 2] - line.path[0]).toBeCloseTo(60 / box.height, 2)
    await page.press(page.keys.ESCAPE)
    await page.chord(page.keys.CONTROL, 'z')
    await page.press('0')
    await go('passes')
  })

  it('works on a second shot as on the first', async () => {
    await go('shot')
    await page.click('[data-testid=add-shot]')
    await page.saved()
    expect((await stored()).sheets).toHaveLength(2)
    await go('passes')
    await page.click('[data-testid=pass-clay]')
    await page.click('[data-testid=one-draft]')
    await rendered(1)
    await page.click('[data-testid=first-stack]')
    await page.until('a ground and clay hang', async () => (await cards()) === 2)
    await page.until('the proof is its own', async () => (await page.pixel('Proof', 0.5, 0.5))[3] === 255)
    await page.press('s')
    expect(await (await page.css('aside h2')).getText()).toBe('Sheet 2')
    const before = await page.pixel('Proof', 0.02, 0.02)
    await page.click('[data-testid="card-Ground"]')
    await page.press('h')
    await page.until(
      'what changes is seen',
      async () => (await page.pixel('Proof', 0.02, 0.02)).join() !== before.join(),
    )
    await page.saved()
    const { sheets } = await stored()
    expect(sheets.map((s) => s.roots.length)).toEqual([7, 2])
    expect(layersOf(sheets[0])[0].visible).toBe(true)
    await go('export')
    expect(await page.bodyText()).toContain('block_Sheet 2.png')
    await go('shot')
    await page.press(',')
    await go('sheet')
    await page.until('the first is as it was', async () => (await cards()) === 7)
  })

  it('loses nothing where one leaves at once', async () => {
    const opacity = async () => layersOf((await stored()).sheets[0]).find((l) => l.name === 'Clay')?.opacity
    const leave: (() => Promise<void>)[] = [
      () => page.driver.get(`${page.address}/`),
      () => page.driver.navigate().refresh(),
      async () => {
        const [first] = await page.driver.getAllWindowHandles()
        await page.driver.switchTo().newWindow('tab')
        const here = await page.driver.getWindowHandle()
        await page.driver.switchTo().window(first)
        await page.driver.close()
        await page.driver.switchTo().window(here)
      },
    ]
    for (const away of leave) {
      await page.driver.get(`${page.address}/project/${id}/sheet`)
      await page.click('[data-testid="card-Clay"]')
      await page.saved()
      const before = (await opacity()) ?? 0
      await type(page.keys.ARROW_DOWN)
      await away()
      await page.driver.get(`${page.address}/project/${id}/sheet`)
      await page.css('[data-testid="card-Clay"]')
      await page.saved()
      await page.until('it is kept', async () => Math.abs(((await opacity()) ?? 0) - (before - 0.05)) < 1e-9)
    }
  })

  it('is one project in two tabs: renamed, rendering, deleted, brought back', async () => {
    const first = await page.driver.getWindowHandle()
    await page.driver.switchTo().newWindow('tab')
    const second = await page.driver.getWindowHandle()
    await page.driver.get(page.address)
    // Renamed by pressing Enter: the dialog stays closed, and the other tab has the name.
    await (await page.xpath('//li[.//a[text()="block"]]//button[text()="Rename"]')).click()
    const field = await page.css('[role=dialog] input')
    await field.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), 'שלום Pell', page.keys.ENTER)
    await page.until('the card has it', async () => /שלום Pell/.test(await page.bodyText()))
    await page.driver.sleep(400)
    expect(await page.driver.findElements({ css: '[role=dialog]' })).toHaveLength(0)
    await page.driver.switchTo().window(first)
    await page.until('the header has it', async () =>
      /שלום Pell/.test(await page.css('h1').then((h) => h.getText())),
    )
    await page.press(page.keys.ARROW_UP)
    await page.saved()
    expect((await stored()).name).toBe('שלום Pell')
    // A render goes on after its project was closed, and holds it. Large enough to last for a while.
    await frameShot(page, 1200, 800)
    await page.saved()
    await go('passes')
    await page.click('[data-testid=render-final]')
    await page.until('it renders', async () => /Rendering \d/.test(await page.bodyText()))
    await page.click('.wordmark')
    await page.css('.project-card')
    await page.driver.switchTo().window(second)
    await page.driver.get(`${page.address}/project/${id}/passes`)
    await page.text('h1', 'Open in another tab')
    await (await page.text('button', 'Open it here')).click()
    await page.css('[data-testid=pass-clay]')
    await page.until('it goes on here', async () =>
      /Rendering|Preparing|In the queue/.test(await page.bodyText()),
    )
    await page.driver.switchTo().window(first)
    await page.until('and not there', async () => !/Rendering/.test(await page.bodyText()))
    // Deleted here while it renders there.
    await (await page.xpath('//li[.//a[text()="שלום Pell"]]//button[text()="Delete"]')).click()
    await page.driver.switchTo().window(second)
    await page.text('h1', 'Deleted in another tab')
    await page.driver.switchTo().window(first)
    await page.until('nothing renders for ever', async () => !/Rendering/.test(await page.bodyText()))
    await (await page.xpath('//summary[contains(., "Deleted")]')).click()
    await (await page.css('[aria-label="Bring back שלום Pell"]')).click()
    await page.until('it is among the others', async () =>
      /שלום Pell/.test(await page.css('.project-grid').then((g) => g.getText())),
    )
    await page.driver.switchTo().window(second)
    await page.driver.close()
    await page.driver.switchTo().window(first)
    await page.driver.get(`${page.address}/project/${id}/sheet`)
    await page.until('with all its cards', async () => (await cards()) === 7)
  })

  it('keeps its head where a step stops: undo and the other steps are there', async () => {
    await page.saved()
    await page.driver.get(`${page.address}/nowhere/at/all`)
    await page.text('h1', 'There is nothing here')
    await (await page.text('a', 'All projects')).click()
    await page.css('.project-card')
    const document = await stored()
    const broken = structuredClone(document)
    // A part that wears a material which is not there.
    broken.models[0].parts[0].materials = [99]
    await replaceStored(page, id, broken)
    await page.driver.get(`${page.address}/project/${id}/models`)
    await page.text('h2', 'This step stopped')
    expect(await page.driver.findElements({ css: '.rail a' })).toHaveLength(7)
    await go('sheet')
    await page.until('another step is open', async () => (await cards()) === 7)
    await page.driver.get(page.address)
    await page.css('.project-card')
    await replaceStored(page, id, document)
  })

  it('shows what cannot act as quiet, with what would wake it', async () => {
    await page.driver.get(`${page.address}/project/${id}/sheet`)
    await page.click('[data-testid="card-Clay"]')
    await page.until('bounce says why it sleeps', async () =>
      /Render it with bounced light/.test(await page.bodyText()),
    )
    expect(await (await (await row('Bounce gain')).findElement({ css: 'input.scrub' })).isEnabled()).toBe(
      false,
    )
    expect(await (await (await row('Sheen')).findElement({ css: 'input.scrub' })).isEnabled()).toBe(true)
  })
})
