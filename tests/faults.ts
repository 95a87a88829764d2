import { seededRandom } from '@/core/math/sampling'
import { projectSchema, validateProject, type Project } from '@/data/project-schema'
import type { BenchPage } from './bench-page'
import { leftOver } from './left-over'
import { storedProject } from './stored-project'

/**
 * A session that is cut off at any moment by anything that can go wrong, seeded: what was decided a quarter of a second before is
 * there, the project is sound, and nothing is left over.
 */

/** What is done is written down at the latest after this. Milliseconds. */
const MOST_LOST_MS = 250
const FAULTS = [
  'the tab is killed',
  'it is reloaded at once',
  'workers end',
  'the server is killed',
  'storage is full',
  'the graphics context is lost',
  'another tab takes the project',
  'the clock is set back',
] as const
export type Fault = (typeof FAULTS)[number]

/** Keeps every worker that a page begins, so that it can be ended. */
export const WATCH_WORKERS = `window.allWorkers = []
window.Worker = class extends Worker { constructor(...args) { super(...args); window.allWorkers.push(this) } }`

export class FaultSession {
  private readonly random: () => number
  readonly done: string[] = []
  /** Names given, and when. */
  private readonly names: { readonly name: string; readonly at: number }[] = []

  constructor(
    private readonly page: BenchPage,
    private readonly id: string,
    private readonly seed: number,
  ) {
    this.random = seededRandom(seed)
    for (let i = 0; i < 8; i++) this.random()
  }

  private any<T>(list: readonly T[]): T {
    return list[Math.floor(this.random() * list.length)]
  }

  /** @throws {Error} naming the seed, what did not hold and all that was done. */
  async round(): Promise<Fault> {
    const fault = FAULTS[this.seed % FAULTS.length]
    try {
      await this.open('passes')
      for (let n = 1 + Math.floor(3 * this.random()); n > 0; n--) await this.act()
      await this.rename()
      await this.page.driver.sleep(600 * this.random())
      this.done.push(fault)
      const at = Date.now()
      await this.faults[fault]()
      await this.open('passes')
      await this.page.saved()
      await this.check(at)
      return fault
    } catch (cause) {
      const why = cause instanceof Error ? cause.message : String(cause)
      throw new Error(`seed ${this.seed}: ${why}\nAfter: ${this.done.join('; ')}`, { cause })
    }
  }

  private async open(step: string): Promise<void> {
    await this.page.driver.get(`${this.page.address}/project/${this.id}/${step}`)
    await this.page.css('.rail')
    if (step === 'passes') await this.page.css('.contact-cell')
  }

  /** Gives the pass at work another name: what must not be lost. */
  private async rename(): Promise<void> {
    const name = `Seed ${this.seed} ${this.names.length + 1}`
    await this.page.css('input[aria-label="Name of the pass"]')
    await this.page.driver.executeScript(
      `const field = document.querySelector('input[aria-label="Name of the pass"]')
       Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, arguments[0])
       field.dispatchEvent(new Event('input', { bubbles: true }))`,
      name,
    )
    this.names.push({ name, at: Date.now() })
    this.done.push(name)
  }

  private async act(): Promise<void> {
    const what = this.any(['rename', 'render', 'stroke', 'export'])
    this.done.push(what)
    if (what === 'rename') await this.rename()
    if (what === 'render') await this.page.click('[data-testid=render-draft]')
    if (what === 'stroke') {
      await this.open('sheet')
      await this.page.css('canvas[aria-label=Proof]')
      await this.page.chord(this.page.keys.SHIFT, 'b')
      const box = await (await this.page.css('[data-testid=paint-overlay]')).getRect()
      const at = (share: number) => ({
        x: Math.round(box.x + share * box.width),
        y: Math.round(box.y + (0.2 + 0.6 * this.random()) * box.height),
      })
      await this.page.driver.actions().move(at(0.2)).press().move(at(0.5)).move(at(0.7)).release().perform()
      await this.open('passes')
    }
    if (what === 'export') {
      await this.open('export')
      await this.page.css('[data-testid=export-archive]')
      await this.page.press('e')
      await this.open('passes')
    }
  }

  private readonly faults: Readonly<Record<Fault, () => Promise<void>>> = {
    'the tab is killed': async () => {
      const { driver } = this.page
      const killed = await driver.getWindowHandle()
      await driver.switchTo().newWindow('tab')
      const next = await driver.getWindowHandle()
      await driver.switchTo().window(killed)
      // It never answers: nobody is there any more.
      await Promise.race([this.page.devTools('Page.crash').catch(() => undefined), driver.sleep(1000)])
      const isGone = await driver.getTitle().then(
        () => false,
        () => true,
      )
      if (!isGone) throw new Error('the tab still lives')
      await driver.close().catch(() => undefined)
      await driver.switchTo().window(next)
      await this.page.beginWith(WATCH_WORKERS)
    },
    'it is reloaded at once': async () => {
      await this.page.driver.navigate().refresh()
    },
    'workers end': async () => {
      const ended = await this.page.driver.executeScript<number>(
        `const all = window.allWorkers.splice(0)
         for (const own of all) { own.terminate(); own.dispatchEvent(new ErrorEvent('error', { message: 'ended' })) }
         return all.length`,
      )
      if (ended === 0) throw new Error('there were no workers to end')
      await this.rename()
      await this.page.click('[data-testid=render-draft]')
      await this.page.driver.sleep(1500)
    },
    'the server is killed': async () => {
      await this.page.restartServer(async () => {
        await this.rename()
        await this.page.driver.sleep(400)
      })
    },
    'storage is full': async () => {
      const { origin } = new URL(this.page.address)
      await this.page.devTools('Storage.overrideQuotaForOrigin', { origin, quotaSize: 1000 })
      await this.page.click('[data-testid=render-draft]')
      // The browser remembers for half a minute how much room there was.
      await this.page.until('it tells that it is not saved', async () => {
        await this.rename()
        await this.page.driver.sleep(2000)
        return (await this.page.bodyText()).includes('Not saved')
      })
      await this.page.devTools('Storage.overrideQuotaForOrigin', { origin })
      await this.rename()
      await this.page.saved()
    },
    'the graphics context is lost': async () => {
      await this.open('shot')
      await this.page.css('canvas')
      const lost = await this.page.driver.executeScript<number>(
        `return [...document.querySelectorAll('canvas')].filter((canvas) => {
           const context = canvas.getContext('webgl2') ?? canvas.getContext('webgl')
           context?.getExtension('WEBGL_lose_context')?.loseContext()
           return context?.isContextLost()
         }).length`,
      )
      if (lost === 0) throw new Error('there was no context to lose')
      await this.page.driver.sleep(400)
    },
    'another tab takes the project': async () => {
      const { driver } = this.page
      const first = await driver.getWindowHandle()
      await driver.switchTo().newWindow('tab')
      await driver.get(`${this.page.address}/project/${this.id}/passes`)
      await (await this.page.text('button', 'Open it here')).click()
      await this.page.css('.contact-cell')
      await this.rename()
      await this.page.saved()
      await driver.close()
      await driver.switchTo().window(first)
    },
    'the clock is set back': async () => {
      await this.page.driver.executeScript(
        'const now = Date.now.bind(Date); Date.now = () => now() - 3 * 3600e3',
      )
      await this.rename()
      await this.page.driver.sleep(400)
    },
  }

  /** What must hold after anything. @param at when it went wrong. */
  private async check(at: number): Promise<void> {
    // 1. The document is sound, and the last decisions are in it.
    const project: Project = await storedProject(this.page, this.id)
    const parsed = projectSchema.safeParse(project)
    if (!parsed.success) throw new Error(`the document is not sound: ${parsed.error.message.slice(0, 300)}`)
    const [problem] = validateProject(parsed.data)
    if (problem) throw new Error(`the document is not sound: ${problem}`)
    const safe = this.names.findLastIndex((own) => own.at <= at - MOST_LOST_MS)
    const there = this.names.findIndex(({ name }) => project.passes.some((pass) => pass.name === name))
    if (there < safe)
      throw new Error(`${this.names[safe].name} is lost: ${project.passes.map((p) => p.name).join()}`)

    // 2. All that it names is there, and nothing else, once renders that go on again have ended.
    await this.page
      .until('what is stored is what is named', async () => {
        this.last = await leftOver(this.page, this.id)
        return this.last === null
      })
      .catch(() => {
        throw new Error(this.last ?? 'what is stored is not what is named')
      })
  }
  private last: string | null = null
}
