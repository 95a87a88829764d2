import { execFileSync } from 'node:child_process'
import type { BenchPage } from './bench-page'
import { leftOver } from './left-over'

/**
 * Elements are found by scripts that give no more than words and numbers back: what a driver holds of an element is held by nothing
 * of the application's.
 *
 * Work that goes on for hours: the same round of the steps over and over, all of it taken back at its end, and what is then held of
 * memory, canvases, listeners, workers and storage.
 */

/** What is held when nothing is done. */
export interface Held {
  /** What the page's own thread holds. */
  readonly heap: number
  /** Of page and workers together, as the browser counts it when it comes to it; 0 where that is not waited for. */
  readonly bytes: number
  /** Of all processes of the browser, as the system counts it. */
  readonly resident: number
  readonly canvases: number
  /** Canvases that stand nowhere in the page. */
  readonly detached: number
  readonly workers: number
  readonly nodes: number
  readonly listeners: number
  /** Rows of all that is stored. */
  readonly stored: number
}

export class LongUse {
  private rounds = 0

  /** @param id of a project with a sheet of some layers, of which one shows an occlusion pass. */
  constructor(
    private readonly page: BenchPage,
    private readonly id: string,
  ) {}

  private there(selector: string): Promise<unknown> {
    return this.page.until(`${selector} is there`, () =>
      this.page.driver.executeScript<boolean>(
        'return document.querySelector(arguments[0]) !== null',
        selector,
      ),
    )
  }

  /** Presses what is there, once it can be pressed. */
  private async click(selector: string): Promise<void> {
    await this.page.until(`${selector} can be pressed`, () =>
      this.page.driver.executeScript<boolean>(
        `const own = document.querySelector(arguments[0])
         if (!own || own.disabled) return false
         own.click()
         return true`,
        selector,
      ),
    )
  }

  /** Words of an element. */
  private words(selector: string): Promise<string> {
    return this.page.driver.executeScript<string>(
      "return document.querySelector(arguments[0])?.textContent ?? ''",
      selector,
    )
  }

  private saved(): Promise<unknown> {
    return this.page.until('all is saved', async () => (await this.words('[data-testid=saving]')) === 'Saved')
  }

  private async step(name: string): Promise<void> {
    const link = `.rail a[href$="/${name}"]`
    await this.click(link)
    await this.there(`${link}[aria-current=page]`)
  }

  /** Drags over what is there, from the middle, in shares of its size. */
  private async drag(selector: string, dx: number, dy: number): Promise<void> {
    await this.there(selector)
    const box = await this.page.driver.executeScript<{ x: number; y: number; width: number; height: number }>(
      'return document.querySelector(arguments[0]).getBoundingClientRect().toJSON()',
      selector,
    )
    const at = (share: number) => ({
      x: Math.round(box.x + (0.5 + dx * share) * box.width),
      y: Math.round(box.y + (0.5 + dy * share) * box.height),
      duration: 80,
    })
    await this.page.driver.actions().move(at(0)).press().move(at(0.5)).move(at(1)).release().perform()
  }

  private async undoAll(): Promise<void> {
    await this.page.until('all is taken back', () =>
      this.page.driver.executeScript<boolean>(
        `const undo = [...document.querySelectorAll('header button')].find((own) => own.textContent.trim() === 'Undo')
         for (let i = 0; i < 40 && undo && !undo.disabled; i++) undo.click()
         return !undo || undo.disabled`,
      ),
    )
  }

  /** Forgets all that could be taken back, so that a round ends where it began. */
  async begin(): Promise<void> {
    const { page } = this
    await this.saved()
    await page.driver.executeAsyncScript(
      `const done = arguments[arguments.length - 1]
       const open = indexedDB.open('muted-relief')
       open.onsuccess = () => {
         const row = open.result.transaction('histories', 'readwrite').objectStore('histories').delete(arguments[0])
         row.onsuccess = () => { open.result.close(); done() }
       }`,
      this.id,
    )
    await page.driver.get(`${page.address}/project/${this.id}/sheet`)
    await this.there('canvas[aria-label=Proof]')
  }

  /** One round: models, shot, passes, the sheet with a stroke, what is exported, the projects, and back. */
  async round(): Promise<void> {
    const { page } = this
    this.rounds++
    await this.step('models')
    await this.there('[data-testid=models-view]')
    await page.until('the models are seen', async () =>
      page.driver.executeScript<boolean>(
        "return document.querySelector('[data-testid=models-view]')?.dataset.seen === 'true'",
      ),
    )
    await this.drag('[data-testid=models-view]', 0.2, 0.1)
    await this.step('shot')
    await this.there('[data-testid=lock]')
    await page.driver.sleep(800)
    await this.step('passes')
    await this.there('.contact-cell')
    await this.click('[data-testid=render-draft]')
    await page.driver.sleep(3000)
    await page.driver.executeScript(
      "for (const own of document.querySelectorAll('button')) if (own.textContent.trim() === 'Cancel') own.click()",
    )
    await this.step('sheet')
    await this.there('canvas[aria-label=Proof]')
    for (const key of ['ArrowLeft', 'ArrowLeft', 'ArrowDown', 'ArrowDown', 'm', 't', 't', 'c'])
      await page.press(this.keyOf(key))
    await page.driver.sleep(800)
    for (const key of ['c', 'd', 'w', ',', ',', '/', 'y', 'y']) await page.press(key)
    await page.chord(page.keys.SHIFT, 'i')
    await page.driver.sleep(800)
    await page.chord(page.keys.SHIFT, 'i')
    // A stroke on a layer of its own.
    await page.press('s')
    await page.chord(page.keys.SHIFT, 'b')
    await this.there('[data-testid=paint-overlay]')
    await this.drag('[data-testid=paint-overlay]', 0.25, this.rounds % 2 === 0 ? 0.2 : -0.2)
    await page.driver.sleep(500)
    await page.press(page.keys.ESCAPE)
    await this.step('export')
    await this.there('[data-testid=export-sheet]')
    await this.click('[data-testid=export-sheet]')
    await page.until('it is written', async () =>
      /is with your downloads/.test(await this.words('[data-testid=export-told]')),
    )
    await this.step('sheet')
    await this.there('canvas[aria-label=Proof]')
    await this.undoAll()
    await this.saved()
    await this.click('.wordmark')
    await this.there('.project-card')
    await this.click(`.project-card a.name[href*="${this.id}"]`)
    await this.there('canvas[aria-label=Proof]')
  }

  private keyOf(name: string): string {
    const { ARROW_LEFT, ARROW_DOWN } = this.page.keys
    return name === 'ArrowLeft' ? ARROW_LEFT : name === 'ArrowDown' ? ARROW_DOWN : name
  }

  /** What is held once all has come to rest and what is held by nothing is collected, at the page of projects. */
  async held({ isWhole }: { readonly isWhole: boolean }): Promise<Held> {
    const { page } = this
    await this.click('.wordmark')
    await this.there('.project-card')
    await page.driver.sleep(3000)
    // What the console and the driver hold of earlier questions is let go.
    for (let i = 0; i < 3; i++) await page.asked('HeapProfiler.collectGarbage')
    const [canvases, detached] = await this.objects(
      'HTMLCanvasElement',
      'own.filter((canvas) => !canvas.isConnected).length',
    )
    const [workers] = await this.objects('Worker', '0')
    const { nodes, jsEventListeners: listeners } = (await page.asked('Memory.getDOMCounters')) as {
      nodes: number
      jsEventListeners: number
    }
    const { usedSize: heap } = (await page.asked('Runtime.getHeapUsage')) as { usedSize: number }
    await page.driver.manage().setTimeouts({ script: 300_000 })
    const [bytes, stored] = await page.driver.executeAsyncScript<[number, number]>(
      `const done = arguments[arguments.length - 1]
       const open = indexedDB.open('muted-relief')
       const isWhole = arguments[0]
       open.onsuccess = async () => {
         const stores = [...open.result.objectStoreNames]
         const counts = await Promise.all(stores.map((name) => new Promise((resolve) => {
           const asked = open.result.transaction(name).objectStore(name).count()
           asked.onsuccess = () => resolve(asked.result)
         })))
         open.result.close()
         const bytes = isWhole ? (await performance.measureUserAgentSpecificMemory()).bytes : 0
         done([bytes, counts.reduce((a, b) => a + b, 0)])
       }`,
      isWhole,
    )
    const held = {
      heap,
      bytes,
      resident: residentOf(page.browserProcess()),
      canvases,
      detached,
      workers,
      nodes,
      listeners,
      stored,
    }
    await this.click(`.project-card a.name[href*="${this.id}"]`)
    await this.there('canvas[aria-label=Proof]')
    return held
  }

  /** How many objects of a class the page holds, and what is counted of them. */
  private async objects(name: string, count: string): Promise<readonly [number, number]> {
    const { page } = this
    const { result } = (await page.asked('Runtime.evaluate', {
      expression: `${name}.prototype`,
      objectGroup: 'held',
    })) as {
      result: { objectId: string }
    }
    const { objects } = (await page.asked('Runtime.queryObjects', {
      prototypeObjectId: result.objectId,
      objectGroup: 'held',
    })) as { objects: { objectId: string } }
    const counted = (await page.asked('Runtime.callFunctionOn', {
      objectId: objects.objectId,
      functionDeclaration: `function () { const own = this; return [own.length, ${count}] }`,
      returnByValue: true,
    })) as { result: { value: readonly [number, number] } }
    await page.asked('Runtime.releaseObjectGroup', { objectGroup: 'held' })
    return counted.result.value
  }

  /** What of storage nothing names; null where all is in order. */
  leftOver(): Promise<string | null> {
    return leftOver(this.page, this.id)
  }
}

/** Bytes that a process and all that it began have in memory; what they share is counted once for each. */
function residentOf(pid: number): number {
  const rows = execFileSync('ps', ['-eo', 'pid=,ppid=,rss='], { encoding: 'utf8' })
    .trim()
    .split('\n')
    .map((row) => row.trim().split(/\s+/).map(Number))
  const own = new Set([pid])
  for (let grew = true; grew;) {
    grew = false
    for (const [child, parent] of rows)
      if (own.has(parent) && !own.has(child)) {
        own.add(child)
        grew = true
      }
  }
  return 1024 * rows.reduce((sum, [child, , rss]) => sum + (own.has(child) ? rss : 0), 0)
}

/** What of `after` is more than a tenth above `before`, in words; null where nothing is. */
export function grown(before: Held, after: Held): string | null {
  const most: Readonly<Record<keyof Held, number>> = {
    heap: 1.1 * before.heap,
    bytes: 1.1 * before.bytes,
    resident: 1.1 * before.resident,
    // A canvas or worker more may be on its way out.
    canvases: before.canvases + 1,
    detached: before.detached + 1,
    workers: before.workers + 1,
    nodes: 1.1 * before.nodes,
    listeners: 1.1 * before.listeners,
    stored: 1.1 * before.stored,
  }
  const found = (Object.keys(most) as (keyof Held)[]).filter((name) => after[name] > most[name])
  return found.length === 0
    ? null
    : found.map((name) => `${name}: ${before[name]} before, ${after[name]} after`).join('; ')
}
