import path from 'node:path'
import { encode } from 'fast-png'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { BenchPage } from './bench-page'
import { addBlock, fileWriter, frameShot, svgGroups } from './block-model'

let page: BenchPage
const file = fileWriter()

beforeAll(async () => {
  page = await BenchPage.open({ isFirst: true })
})
afterAll(async () => {
  await page?.close()
})

describe('from start to a finished picture', () => {
  it('opens on the demo, finished and layered, and never blocks for long', async () => {
    await page.driver.get(page.address)
    const link = await page.css('.project-card .name')
    expect(await link.getText()).toBe('Low Water')
    await link.click()
    await page.until(
      'seven layers or more hang in the rack',
      async () => (await page.driver.findElements({ css: '.card' })).length >= 7,
    )
    const isolated = await page.driver.executeScript('return self.crossOriginIsolated')
    expect(isolated).toBe(true)
    // Sky at the top, kiosk in the middle: not an empty stage.
    await page.until('the proof is there', async () => (await page.pixel('Proof', 0.5, 0.5))[3] === 255)
    const sky = await page.pixel('Proof', 0.05, 0.05)
    const roof = await page.pixel('Proof', 0.46, 0.3)
    expect(Math.hypot(...sky.map((v, i) => v - roof[i]))).toBeGreaterThan(60)
    expect(await page.bodyText()).not.toContain('out of register')
  })

  it('takes a model in, and says what is wrong with a bad one', async () => {
    await page.driver.get(page.address)
    await page.click('[data-testid=new-project]')
    const input = await page.css('[data-testid=model-input]')
    await input.sendKeys(file('broken.glb', 'this is not a model'))
    const alert = await page.css('[role=alert]')
    await page.until('the error names file and reason', async () =>
      /broken\.glb: is not a GLB/.test(await alert.getText()),
    )
    expect(await page.bodyText()).toContain('Bring in a model')
    await addBlock(page, file)
    expect(await page.bodyText()).toContain('2 parts, 6 polygons')
    await page.saved()
  })

  it('frames, sizes and locks the shot; a locked shot does not move', async () => {
    await frameShot(page, 320, 200)
    await page.press('l')
    await page.text('button', 'Unlock the shot')
    await page.saved()
    const stands = async () => (await page.css('[data-testid=stands-at]')).getText()
    const before = await stands()
    await page.press(page.keys.ARROW_LEFT)
    await page.css('[role=alert]')
    expect(await stands()).toBe(before)
  })

  it('renders all passes in the background while the page stays live', async () => {
    await page.click('.rail a[href$="/passes"]')
    await page.css('[data-testid=pass-clay]')
    await page.driver.executeScript(
      `window.longTasks = []; new PerformanceObserver((l) => l.getEntries().forEach((e) => window.longTasks.push(e.duration))).observe({ type: 'longtask' })`,
    )
    await page.click('[data-testid=render-draft]')
    await page.until('all six are ready', async () => {
      const cells = await page.driver.findElements({ css: '.contact-cell[data-state=ready]' })
      return cells.length === 6 && !/Rendering/.test(await page.bodyText())
    })
    const long = await page.driver.executeScript<number[]>('return window.longTasks')
    console.log(`long tasks while rendering: ${long.length}, longest ${Math.round(Math.max(0, ...long))} ms`)
    await page.saved()
  })

  it('zooms all passes together', async () => {
    /** The pictures, each brought to so little that it does not matter how it was brought to the screen. */
    const drawn = () =>
      page.driver.executeScript<number[][]>(
        `return [...document.querySelectorAll('.contact-picture canvas')].map((c) => {
           const g = new OffscreenCanvas(24, 18).getContext('2d')
           g.imageSmoothingQuality = 'high'
           g.drawImage(c, 0, 0, 24, 18)
           return [...g.getImageData(0, 0, 24, 18).data]
         })`,
      )
    const offs = async () =>
      (await drawn()).map(
        (own, i) => own.reduce((sum, v, j) => sum + Math.abs(v - before[i][j]), 0) / own.length,
      )
    const before = await page.until('every picture is there', async () => {
      const once = await drawn()
      await page.driver.sleep(2500)
      return (await drawn()).join() === once.join() && once.every((own) => own.some((v) => v > 0)) && once
    })
    const picture = await page.css('[data-testid=pass-occlusion] .contact-picture')
    const { x, y, width, height } = await picture.getRect()
    await page.wheel(Math.round(x + width / 2), Math.round(y + height / 2), -900)
    const zoomed = await page.until('every picture shows another part', async () => {
      const now = await offs()
      return now.every((off) => off > 1) && now
    })
    await page.press('0')
    await page.until('all are whole again', async () => (await offs()).every((off, i) => off < zoomed[i] / 4))
  })

  it('hangs a first stack in one step, and takes it back in one', async () => {
    await page.click('[data-testid=first-stack]')
    await page.until(
      'a ground and six passes hang',
      async () => (await page.driver.findElements({ css: '.card' })).length === 7,
    )
    await page.until('the block is drawn on the ground', async () => {
      const [block, ground] = [await page.pixel('Proof', 0.5, 0.45), await page.pixel('Proof', 0.02, 0.02)]
      return ground[3] === 255 && Math.hypot(...block.map((v, i) => v - ground[i])) > 60
    })
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('the sheet is empty', async () => /An empty sheet/.test(await page.bodyText()))
  })

  it('layers passes, blends, masks one by a part, and keeps it all over a reload', async () => {
    for (const kind of ['clay', 'id']) {
      await page.click('.rail a[href$="/passes"]')
      await page.click(`[data-testid=pass-${kind}]`)
      await page.click('[data-testid=to-sheet]')
      await page.css('.rack')
    }
    await page.until(
      'two layers hang',
      async () => (await page.driver.findElements({ css: '.card' })).length === 2,
    )
    // A red fill in front, shown only on the block.
    await page.press('n')
    await page.css('[data-testid="card-Fill"]')
    const colour = await page.css('#fill-colour-0')
    await page.driver.executeScript(
      `const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
       set.call(arguments[0], '#ff0000'); arguments[0].dispatchEvent(new Event('input', { bubbles: true }))`,
      colour,
    )
    await page.click('[data-testid=add-term]')
    await page.click('[data-testid=term-parts]')
    await (await page.text('label', 'Block')).click()
    await page.click('[data-testid=term-done]')
    await page.until('the block alone is red', async () => {
      const [r, g, b] = await page.pixel('Proof', 0.5, 0.45)
      const rest = await page.pixel('Proof', 0.02, 0.02)
      return r === 255 && g === 0 && b === 0 && rest.slice(0, 3).every((v) => v === 255)
    })
    await page.saved()
    await page.driver.navigate().refresh()
    await page.until(
      'the three layers are back',
      async () => (await page.driver.findElements({ css: '.card' })).length === 3,
    )
    await page.until(
      'the block is red again',
      async () =>
        (await page.pixel('Proof', 0.5, 0.45))[0] === 255 && (await page.pixel('Proof', 0.5, 0.45))[1] === 0,
    )
  })

  it('reorders by dragging, masks by clicking the proof, and takes a picture in', async () => {
    const names = async () => {
      const cards = await page.driver.findElements({ css: '.card .card-name' })
      return Promise.all(cards.map((card) => card.getText()))
    }
    expect((await names()).at(-1)).toBe('Fill')
    // The card itself, not its opacity edge, which a drag would change.
    const from = await page.css('[data-testid="card-Fill"] .card-picture')
    const to = await page.css('[data-testid="card-Clay"] .card-picture')
    await page.drag(from, to)
    await page.until('the fill hangs at the back', async () => (await names())[0] === 'Fill')
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('and in front again', async () => (await names()).at(-1) === 'Fill')

    // Two clicks on the block: out of the mask, which leaves none, and in again.
    await page.click('[data-testid="card-Fill"]')
    await page.press('p')
    const proof = await page.css('canvas[aria-label="Proof"]')
    const { height } = await proof.getRect()
    const clickBlock = () =>
      page.driver
        .actions()
        .move({ origin: proof, x: 0, y: Math.round(-0.05 * height) })
        .click()
        .perform()
    const cornerRed = async () => (await page.pixel('Proof', 0.02, 0.02))[1] === 0
    await clickBlock()
    await page.until('without a mask all is red', cornerRed)
    await clickBlock()
    await page.until('with it the block alone', async () => !(await cornerRed()))
    await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()

    const pixel = { width: 1, height: 1, data: Uint8Array.of(0, 0, 255, 255), channels: 4 } as const
    const dot = file('dot.png', encode(pixel))
    await (await page.css('[data-testid=picture-input]')).sendKeys(dot)
    // Square, on a sheet that is not: whole, in the middle, in its own proportions.
    await page.until('the picture lies in the middle of the sheet', async () => {
      const [r, g, b] = await page.pixel('Proof', 0.5, 0.95)
      const [besideRed] = await page.pixel('Proof', 0.02, 0.95)
      return r === 0 && g === 0 && b === 255 && besideRed > 0
    })
    await page.driver
      .findElement({ css: '[data-testid=picture-input]' })
      .sendKeys(file('note.png', 'no picture'))
    await page.until('what is no picture is refused by name', async () =>
      /note\.png: is not a picture/.test(await page.bodyText()),
    )
    await page.click('[data-testid="card-dot"]')
    await page.press(page.keys.DELETE)
    await page.until('three layers are left', async () => (await names()).length === 3)
    await page.saved()
  })

  it('lets only one tab change a project', async () => {
    const [first] = await page.driver.getAllWindowHandles()
    const here = await page.driver.getCurrentUrl()
    await page.driver.switchTo().newWindow('tab')
    await page.driver.get(here)
    await page.text('h1', 'Open in another tab')
    await (await page.text('button', 'Open it here')).click()
    await page.until(
      'the layers are here now',
      async () => (await page.driver.findElements({ css: '.card' })).length === 3,
    )
    await page.driver.close()
    await page.driver.switchTo().window(first)
    await page.text('h1', 'Open in another tab')
    await (await page.text('button', 'Open it here')).click()
    await page.until(
      'and back again',
      async () => (await page.driver.findElements({ css: '.card' })).length === 3,
    )
    await page.until('with the proof', async () => (await page.pixel('Proof', 0.5, 0.45))[0] === 255)
  })

  it('works by keyboard, and takes back every step', async () => {
    await page.click('[data-testid="card-Fill"]')
    const card = await page.css('[data-testid="card-Fill"]')
    const label = async () => (await card.getAttribute('textContent')) ?? ''
    await page.press(page.keys.ARROW_DOWN)
    await page.until('opacity is 95', async () => /95 %/.test(await label()))
    await page.press('m')
    await page.until('the mode is Multiply', async () => /Multiply/.test(await label()))
    await page.press('h')
    await page.until('it is hidden', async () => /Hidden/.test(await label()))
    for (let i = 0; i < 3; i++) await page.chord(page.keys.CONTROL, 'z')
    await page.until('all three are taken back', async () => /^FillNormal100 %, masked$/.test(await label()))
    await page.press(',')
    await page.until(
      'one layer is peeled',
      async () => (await page.driver.findElements({ css: '.card[data-peeled=true]' })).length === 1,
    )
    await page.press('/')
    await page.press('c')
    await page.css('[data-testid=compare]')
    await page.until('left of the seam the layer is off', async () => {
      const [r, g] = await page.pixel('Without Fill', 0.5, 0.45)
      return !(r === 255 && g === 0)
    })
    await page.press('c')
    await page.chord(page.keys.CONTROL, 'k')
    await page.css('[aria-label="Find an action"]')
    await page.driver.actions().sendKeys(page.keys.ESCAPE).perform()
    await page.saved()
  })

  it('exports a PNG whose pixels are those of the proof, and an archive that opens again', async () => {
    const proof = await page.pixel('Proof', 0.5, 0.45)
    await page.driver.executeScript('document.querySelector(".rail a[href$=\\"/export\\"]").click()')
    await page.click('[data-testid=export-sheet]')
    const png = await page.download('block_Sheet 1.png')
    const decoded = await page.decode(png, [
      [0.5, 0.45],
      [0.02, 0.02],
    ])
    expect([decoded.width, decoded.height]).toEqual([320, 200])
    expect(decoded.pixels[0]).toEqual(proof)
    expect(decoded.pixels[1]).toEqual([255, 255, 255, 255])
    // Lines: a drawing file that the browser's own parser reads, with a group for the block's silhouette.
    await page.click('[data-testid=export-lines]')
    const svg = (await page.download('block_Shot 1_lines.svg')).toString('utf8')
    const groups = await svgGroups(page, svg)
    expect(groups).toContain('silhouette Block true')
    expect(svg).toContain('viewBox="0 0 320 200"')
    await page.click('[data-testid=export-archive]')
    await page.download('block.zip')
    await page.driver.get(page.address)
    await (await page.css('[data-testid=archive-input]')).sendKeys(path.join(page.downloads, 'block.zip'))
    await page.until(
      'the copy is open with its layers',
      async () => (await page.driver.findElements({ css: '.card' })).length === 3,
    )
    await page.until(
      'and its proof',
      async () => (await page.pixel('Proof', 0.5, 0.45)).join() === proof.join(),
    )
  })

  it('says when a pass is out of register, why, and one press renders again', async () => {
    await page.click('.rail a[href$="/models"]')
    await page.click('[aria-label="Hide Block"]')
    const pill = await page.css('[data-testid=render-stale]')
    expect(await pill.getText()).toMatch(/6 passes out of register: Block is now off/)
    await pill.click()
    await page.until(
      'all are in register',
      async () => !/out of register|Rendering|Preparing/.test(await page.bodyText()),
    )
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('undo shows it again, and the passes are out of register once more', async () =>
      /out of register: Block is now subject/.test(await page.bodyText()),
    )
  })
})
