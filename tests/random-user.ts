import { seededRandom } from '../src/core/math/sampling'
import type { Project } from '../src/data/project-schema'
import type { BenchPage } from './bench-page'
import { blockProject, frameShot } from './block-model'
import { openId, storedProject } from './stored-project'

/**
 * A user who does anything at all: actions by name, keys, numbers, menus, reloads, a second tab, in an order that a seed
 * gives. Whatever was done, all of it can be undone and done again, and what is exported is what was seen.
 */

/** Actions that leave the page or open a window of the system, where a driver cannot follow; and those that only take time. */
const NOT_TRIED =
  /^(Add models|Add a folder|Pin a reference|Add a picture|Add the demo|Replace by a newer|Open a project|New project|All projects|Bring in|Find an action|All shortcuts|Export|Show the lines alone|Render all, (good|final)|Day bench|Night bench|Focus|Undo|Do again)/
/** Fields whose extremes would only take time: pictures of gigabytes, hours of rays. */
const NOT_TURNED = /^(Width|Height|Print at|Samples|Rays|Columns|Rows|Copies|Count)/
const STEPS = ['models', 'shot', 'passes', 'sheet'] as const

const KEYS = [
  'h',
  'm',
  'd',
  'c',
  's',
  'n',
  ',',
  '.',
  '/',
  '0',
  '1',
  '[',
  ']',
  'g',
  'l',
  'k',
  'v',
  'b',
  'p',
  'f',
  'u',
]

/** What of a document is a decision: what was rendered is a fact, and where one looks is neither. */
function decisions({ shotId: _shotId, ...project }: Project): unknown {
  return { ...project, passes: project.passes.map(({ rendered: _rendered, ...pass }) => pass) }
}

export class RandomUser {
  private readonly random: () => number
  /** The document before all that can be undone. */
  private first: unknown = null
  /** What was done, for who has to do it again. */
  readonly done: string[] = []

  constructor(
    private readonly page: BenchPage,
    private readonly id: string,
    private readonly seed: number,
  ) {
    this.random = seededRandom(seed)
  }

  private any<T>(list: readonly T[]): T {
    return list[Math.floor(this.random() * list.length)]
  }

  private async document(): Promise<unknown> {
    await this.page.saved()
    return decisions(await storedProject(this.page, this.id))
  }

  private async goTo(step: string): Promise<void> {
    const link = `.rail a[href$="/${step}"]`
    await this.page.css(link)
    await this.page.driver.executeScript('document.querySelector(arguments[0]).click()', link)
    await this.page.css(`${link}[aria-current=page]`)
  }

  /** Presses a button of the header until there is nothing more for it to do. */
  private all(words: 'Undo' | 'Again'): Promise<number> {
    return this.page.driver.executeAsyncScript<number>(
      `const done = arguments[arguments.length - 1]
       let count = 0
       const press = () => {
         const button = [...document.querySelectorAll('header button')].find((b) => b.textContent === arguments[0])
         if (!button || button.disabled || count > 400) return done(count)
         button.click()
         count++
         setTimeout(press, 25)
       }
       press()`,
      words,
    )
  }

  private readonly acts: Readonly<Record<string, () => Promise<string | null>>> = {
    'an action by name': async () => {
      await this.page.chord(this.page.keys.CONTROL, 'k')
      await this.page.css('#finder-list li')
      const names = await this.page.driver.executeScript<string[]>(
        `return [...document.querySelectorAll('#finder-list li[data-of=actions] > span')].map((s) => s.firstChild.textContent.trim())`,
      )
      const wanted = names.filter((name) => !NOT_TRIED.test(name))
      const name = this.any(wanted)
      await this.page.driver.executeScript(
        // The list may have changed meanwhile: by name.
        `[...document.querySelectorAll('#finder-list li[data-of=actions]')]
           .find((l) => l.querySelector('span').firstChild.textContent.trim() === arguments[0])?.click()`,
        name,
      )
      return name
    },
    'a key': async () => {
      const key = this.any(KEYS)
      await this.page.press(key)
      return key
    },
    'an arrow in a field': async () => {
      const labels = await this.page.driver.executeScript<string[]>(
        `return [...document.querySelectorAll('aside .row > label')].filter((l) => document.getElementById(l.htmlFor)?.matches('input.scrub:enabled')).map((l) => l.textContent)`,
      )
      const usable = labels.filter((label) => !NOT_TURNED.test(label))
      if (usable.length === 0) return null
      const label = this.any(usable)
      const at = labels.indexOf(label)
      await this.page.driver.executeScript(
        `const l = [...document.querySelectorAll('aside .row > label')].filter((l) => document.getElementById(l.htmlFor)?.matches('input.scrub:enabled'))[arguments[0]]
         document.getElementById(l.htmlFor).focus()`,
        at,
      )
      const key = this.any([this.page.keys.ARROW_UP, this.page.keys.ARROW_DOWN])
      await this.page.driver.actions().sendKeys(key, key).perform()
      return label
    },
    'a switch or a list': async () =>
      this.page.driver.executeScript<string | null>(
        `const all = [...document.querySelectorAll('aside input[type=checkbox]:enabled, aside select:enabled')]
           // Sheets of paper are pictures of gigabytes.
           .filter((e) => e.labels?.[0]?.textContent !== 'Size for')
         if (all.length === 0) return null
         const one = all[Math.floor(arguments[0] * all.length)]
         if (one.matches('select')) {
           const options = [...one.options].filter((o) => !o.disabled)
           const option = options[Math.floor(arguments[1] * options.length)]
           Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(one, option.value)
           one.dispatchEvent(new Event('change', { bubbles: true }))
           return (one.ariaLabel ?? one.id) + ': ' + option.text
         }
         one.click()
         return one.ariaLabel ?? one.id`,
        this.random(),
        this.random(),
      ),
    'a card or a part': async () =>
      this.page.driver.executeScript<string | null>(
        `const all = [...document.querySelectorAll('.card, .part-row, .contact-cell')]
         const one = all[Math.floor(arguments[0] * all.length)]
         if (!one) return null
         one.click()
         return one.textContent.slice(0, 30)`,
        this.random(),
      ),
    'another step': async () => {
      const step = this.any(STEPS)
      await this.goTo(step)
      return step
    },
    'undo or again': async () => {
      await this.page.chord(this.page.keys.CONTROL, this.random() < 0.6 ? 'z' : 'Z')
      return ''
    },
    'a reload at once': async () => {
      await this.page.driver.navigate().refresh()
      await this.page.css('.rail')
      return ''
    },
    'a second tab': async () => {
      const here = await this.page.driver.getWindowHandle()
      await this.page.driver.switchTo().newWindow('tab')
      await this.page.driver.get(`${this.page.address}/project/${this.id}/sheet`)
      await this.page.text('h1', 'Open in another tab')
      await this.page.driver.close()
      await this.page.driver.switchTo().window(here)
      return ''
    },
  }

  /** How often each is done, beside the others. */
  private static readonly WEIGHTS: Readonly<Record<string, number>> = {
    'an action by name': 6,
    'an arrow in a field': 5,
    'a switch or a list': 4,
    'a card or a part': 3,
    'a key': 3,
    'another step': 3,
    'undo or again': 2,
    'a reload at once': 0.4,
    'a second tab': 0.3,
  }

  private pick(): string {
    const entries = Object.entries(RandomUser.WEIGHTS)
    let left = this.random() * entries.reduce((sum, [, weight]) => sum + weight, 0)
    return entries.find(([, weight]) => (left -= weight) < 0)?.[0] ?? 'a key'
  }

  private async settle(): Promise<void> {
    await this.page.driver.actions().sendKeys(this.page.keys.ESCAPE).perform()
    await this.page.until(
      'nothing lies over the page',
      async () => (await this.page.driver.findElements({ css: '.MuiModal-root' })).length === 0,
    )
    const stopped = await this.page.driver.findElements({ xpath: '//h2[text()="This step stopped"]' })
    if (stopped.length > 0) throw new Error(`a step stopped: ${await this.page.bodyText()}`)
    if (!/\/project\//.test(await this.page.driver.getCurrentUrl()))
      await this.page.driver.get(`${this.page.address}/project/${this.id}/sheet`)
    await this.page.css('.rail')
  }

  /**
   * One round.
   * @throws {Error} naming the seed, what did not hold and all that was done.
   */
  async round(acts: number): Promise<void> {
    try {
      // A history outlasts its page: what all of it taken back leads to stays the same, whatever is done and reloaded.
      await this.page.driver.navigate().refresh()
      await this.page.css('.rail')
      const now = await this.document()
      await this.all('Undo')
      this.first = await this.document()
      await this.all('Again')
      same(await this.document(), now, 'all done again after a reload is not what was')
      for (let i = 0; i < acts; i++) {
        const act = this.pick()
        const what = await this.acts[act]()
        this.done.push(what ? `${act}: ${what}` : act)
        await this.settle()
      }
      await this.idle()
      await this.undoAndDoAgain()
      await this.exportIsProof()
    } catch (cause) {
      const why = cause instanceof Error ? cause.message : String(cause)
      throw new Error(`seed ${this.seed}: ${why}\nAfter: ${this.done.join('; ')}`, { cause })
    }
  }

  /** Until nothing renders any more. */
  private async idle(): Promise<void> {
    await this.page.until('nothing renders', async () => {
      await this.page.driver.executeScript(
        `document.querySelector('[data-testid=stopped-job] .link:last-child')?.click()`,
      )
      return !/Rendering|Preparing|In the queue/.test(await this.page.bodyText())
    })
  }

  private async undoAndDoAgain(): Promise<void> {
    await this.all('Again')
    const last = await this.document()
    await this.all('Undo')
    same(await this.document(), this.first, 'all undone is not the first')
    await this.all('Again')
    same(await this.document(), last, 'all done again is not the last')
  }

  private async exportIsProof(): Promise<void> {
    await this.goTo('sheet')
    await this.page.css('[data-testid=add-layer]')
    await this.page.press('/', '0')
    await this.page.driver.sleep(900)
    const proof = await this.page.driver.executeScript<{ width: number; height: number; data: number[] }>(
      `const c = document.querySelector('canvas[aria-label="Proof"]')
       const copy = new OffscreenCanvas(c.width, c.height).getContext('2d')
       copy.drawImage(c, 0, 0)
       return { width: c.width, height: c.height, data: [...copy.getImageData(0, 0, c.width, c.height).data] }`,
    )
    const { sheets, shots, shotId, name } = await storedProject(this.page, this.id)
    const sheet = sheets.find((s) => s.shotId === shotId) ?? sheets[0]
    if (proof.width !== sheet.width || proof.height !== sheet.height)
      throw new Error(
        `the proof is ${proof.width} × ${proof.height}, the sheet ${sheet.width} × ${sheet.height}; ${shots.length} shots`,
      )
    await this.goTo('export')
    await this.page.click('[data-testid=export-sheet]')
    const told = await this.page.css('[data-testid=export-told]')
    await this.page.until('it is written', async () => /is with your downloads/.test(await told.getText()))
    const file = /^(.*\.png) is with/.exec(await told.getText())?.[1]
    if (!file) throw new Error(`no file of ${name} was named`)
    const bytes = await this.page.download(file)
    const { decode } = await import('fast-png')
    const written = decode(bytes)
    let worst = 0
    for (let i = 0; i < proof.data.length; i += 4) {
      // Colours of what is clear do not count.
      const alpha = Math.min(proof.data[i + 3], written.data[i + 3]) / 255
      worst = Math.max(worst, Math.abs(proof.data[i + 3] - written.data[i + 3]))
      for (let c = i; c < i + 3; c++)
        worst = Math.max(worst, alpha * Math.abs(proof.data[c] - written.data[c]))
    }
    if (worst > 2) throw new Error(`proof and export differ by up to ${worst} of 255`)
    this.page.forget(file)
    await this.goTo('sheet')
  }
}

function same(found: unknown, wanted: unknown, what: string): void {
  const [a, b] = [JSON.stringify(found), JSON.stringify(wanted)]
  if (a === b) return
  let at = 0
  while (a[at] === b[at]) at++
  throw new Error(
    `${what}: …${a.slice(Math.max(0, at - 80), at + 60)} instead of …${b.slice(Math.max(0, at - 80), at + 60)}`,
  )
}

/** A small project that has something of everything, open at its sheet. @returns its id. */
export async function projectForRandomUser(
  page: BenchPage,
  file: (name: string, content: string) => string,
): Promise<string> {
  await blockProject(page, file)
  const id = await openId(page)
  await frameShot(page, 120, 80)
  await hangDrafts(page)
  await page.saved()
  return id
}

/** Renders the six passes that a project begins with as drafts, and hangs a first stack of them. */
export async function hangDrafts(page: BenchPage): Promise<void> {
  await page.click('.rail a[href$="/passes"]')
  await page.click('[data-testid=render-draft]')
  await page.until(
    'all is rendered',
    async () =>
      (await page.driver.findElements({ css: '.contact-cell[data-state=ready]' })).length === 6 &&
      !/Rendering|Preparing|In the queue/.test(await page.bodyText()),
    600_000,
  )
  await page.click('[data-testid=first-stack]')
  await page.css('.card')
}
