import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { layersOf } from '@/core/sheet/sheet-tree'
import { activeSheet } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { BenchPage } from './bench-page'
import { storedProject } from './stored-project'

/** Groups, washes and gates in the rack of the demo: by pointer, and by keyboard alone. */
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
/** Layers with their depth: "  Cavity" lies in a group. */
const tree = async (): Promise<string[]> => {
  const sheet = activeSheet(await stored())
  const depth = (id: string): number => {
    const parent = Object.values(sheet.nodes).find(
      ({ content }) => content.kind === 'group' && content.children.includes(id),
    )
    return parent ? 1 + depth(parent.id) : 0
  }
  return layersOf(sheet).map(({ id, name }) => '  '.repeat(depth(id)) + name)
}
const card = (name: string) => page.css(`[data-testid="card-${name}"]`)
const colourAt = (x: number, y: number) => page.pixel('Proof', x, y)
const shifted = (key: string) => page.chord(page.keys.SHIFT, key)

/** How many layers there are before anything is done. */
let atFirst = 0

describe('the rack as a tree', () => {
  it('groups the chosen layer without changing the picture, and takes others in by keyboard', async () => {
    atFirst = (await tree()).length
    const before = await colourAt(0.45, 0.6)
    await (await card('Cavity')).click()
    await page.press('g')
    await card('Group')
    expect((await tree()).slice(4, 6)).toEqual(['Group', '  Cavity'])
    await (await card('Occlusion, warm')).click()
    await shifted(page.keys.ARROW_RIGHT)
    await page.until('occlusion lies in the group', async () => (await tree()).includes('  Occlusion, warm'))
    expect(await colourAt(0.45, 0.6)).toEqual(before)
  })

  it('takes a card out of its group, and into it, by dragging', async () => {
    const picture = (name: string) => page.css(`[data-testid="card-${name}"] .card-picture`)
    await page.drag(await picture('Cavity'), await picture('Flat colour'))
    await page.until('the cavity hangs outside', async () => (await tree()).includes('Cavity'))
    await page.drag(await picture('Cavity'), await picture('Occlusion, warm'))
    await page.until('and inside again', async () => (await tree()).includes('  Cavity'))
  })

  it('keeps a card in its place while its opacity is dragged beyond it', async () => {
    const before = await tree()
    const edge = await page.css('[data-testid="card-Contour"] .card-edge')
    const { x, y, width, height } = await edge.getRect()
    const along = (share: number) => ({ x: Math.round(x + share * width), y: Math.round(y + height / 2) })
    const actions = page.driver.actions().move(along(0.95)).press().move(along(0.4)).move(along(-0.8))
    await actions.release().perform()
    await page.until('it is clear', async () =>
      /^0\b/.test(await (await page.css('[data-testid="card-Contour"] .card-mode b')).getText()),
    )
    expect(await tree()).toEqual(before)
    await page.chord(page.keys.CONTROL, 'z')
    await page.until(
      'it is as it was',
      async () => !/^0\b/.test(await (await page.css('[data-testid="card-Contour"] .card-mode b')).getText()),
    )
  })

  it('lightens all that lies beneath with a wash, and not what lies in front of it', async () => {
    // In front of all: the sky's corner is part of it.
    await (await card('Dusk from above')).click()
    const before = await colourAt(0.05, 0.05)
    await page.press('w')
    const pane = await card('Levels wash')
    expect(await pane.getAttribute('class')).toContain('wash-pane')
    const gamma = await page.css('input[aria-label="Gamma"], [aria-label="Gamma"] input')
    await page.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', gamma)
    await gamma.sendKeys(page.keys.ARROW_RIGHT)
    for (let i = 0; i < 10; i++) await gamma.sendKeys(page.keys.PAGE_UP)
    await page.until('the sky is lighter', async () => {
      const now = await colourAt(0.05, 0.05)
      return now[2] > before[2] + 20
    })
    // At the very back it has nothing to work on.
    await pane.click()
    for (let i = 0; i < 20; i++) await shifted(page.keys.ARROW_LEFT)
    await page.until('it hangs at the back', async () => (await tree())[0] === 'Levels wash')
    await page.until('the sky is as it was', async () => {
      const now = await colourAt(0.05, 0.05)
      return now.every((v, c) => Math.abs(v - before[c]) <= 1)
    })
    await page.press(page.keys.DELETE)
  })

  it('limits a layer by the tone beneath it, by pointer and by arrow keys', async () => {
    await (await card('Dusk from above')).click()
    const before = await colourAt(0.05, 0.05)
    await page.click('[data-testid=gate-beneath]')
    // The evening sky is bright: what shows in the dark alone is gone there.
    const handle = await page.css('[aria-label="Tone beneath: nothing above"]')
    await page.driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', handle)
    await handle.sendKeys(page.keys.ARROW_LEFT)
    await page.until('the gate is kept', async () => {
      const node = layersOf(activeSheet(await stored())).find(({ name }) => name === 'Dusk from above')
      const edge = node?.gate?.beneath?.[3] ?? 1
      return Math.abs(edge - 0.79) < 1e-6
    })
    await page.until('the sky is without it', async () => {
      const now = await colourAt(0.05, 0.05)
      return now.some((v, c) => Math.abs(v - before[c]) > 2)
    })
    await page.css('[data-testid="card-Dusk from above"] .card-gate')
  })

  it('folds a group, counts it as one in the peel, and takes everything back', async () => {
    await (await card('Group')).click()
    await page.press('f')
    await page.until(
      'its cards are behind it',
      async () => (await page.driver.findElements({ css: '[data-testid="card-Cavity"]' })).length === 0,
    )
    for (let i = 0; i < 80; i++) {
      const undo = await page.text('button', 'Undo')
      if ((await undo.getAttribute('disabled')) !== null) break
      await page.chord(page.keys.CONTROL, 'z')
    }
    await page.until('the rack is as it was', async () => {
      const names = await tree()
      return names.length === atFirst && names.every((name) => !name.startsWith(' '))
    })
  })

  it('comes back with the same picture when its worker ends in the middle of a drag', async () => {
    // The browser's workers, kept track of from the first line on, so that one can be ended from outside.
    await page.beginWith(
      `window.sheetWorkers = new Set()
       window.Worker = class extends Worker {
         composing = new Set()
         postMessage(message, ...rest) {
           if (message?.type === 'show') {
             if (!sheetWorkers.has(this))
               this.addEventListener('message', ({ data }) => data.type !== 'progress' && this.composing.delete(data.request))
             sheetWorkers.add(this)
             this.composing.add(message.request)
           }
           return super.postMessage(message, ...rest)
         }
       }`,
    )
    await page.driver.navigate().refresh()
    const edge = await page.css('[data-testid="card-Flat colour"] .card-edge')
    const workers = () => page.driver.executeScript<number>('return window.sheetWorkers.size')
    const proof = () =>
      page.driver.executeScript<string>(
        `const c = document.querySelector('canvas[aria-label=Proof]')
         if (!c || c.width <= 300) return ''
         const copy = new OffscreenCanvas(c.width, c.height).getContext('2d')
         copy.drawImage(c, 0, 0)
         const { data } = copy.getImageData(0, 0, c.width, c.height)
         const some = [c.width, c.height]
         for (let i = 0; i < data.length; i += 97) some.push(data[i])
         return some.join()`,
      )
    await page.until('the proof stands', async () => (await workers()) === 1 && (await proof()) !== '')
    const whole = await proof()
    const { x, y, width, height } = await edge.getRect()
    const over = (share: number) => ({ x: Math.round(x + share * width), y: Math.round(y + height / 2) })
    await page.driver.executeScript(
      `setTimeout(() => {
         for (const worker of sheetWorkers) {
           worker.terminate()
           worker.dispatchEvent(new ErrorEvent('error', { message: 'out of memory' }))
         }
       }, 700)`,
    )
    await page.driver
      .actions()
      .move(over(0.9))
      .press()
      .move(over(0.7))
      .pause(900)
      .move(over(0.5))
      .move(over(0.3))
      .release()
      .perform()
    await page.until(
      'another worker shows it',
      async () => (await workers()) === 2 && (await proof()) !== whole,
    )
    await page.saved()
    const isComposing = () =>
      page.driver.executeScript<boolean>('return [...sheetWorkers].at(-1)?.composing.size !== 0')
    const still = async () => {
      const before = await proof()
      await page.driver.sleep(800)
      return !(await isComposing()) && (await proof()) === before && before
    }
    const after = await page.until('it is at rest', still)
    expect(await page.driver.findElements({ css: '.sheet-step [role=alert]' })).toEqual([])
    // Of a tab that knows of no fault.
    await page.driver.navigate().refresh()
    await page.until('the same stands', async () => (await still()) === after)
    const flat = layersOf(activeSheet(await stored())).find(({ name }) => name === 'Flat colour')
    expect(flat?.opacity).toBeLessThan(0.45)
  })
})
