import { execFileSync, type ChildProcess } from 'node:child_process'
import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import type { WebDriver, WebElement } from 'selenium-webdriver'
import { By, error, Key, until } from 'selenium-webdriver'

/** Plain scripts, from the tests as they are and from where they are bundled to. */
const SCRIPTS: string = new URL('../scripts/', import.meta.url).href

/** Which of the files that run beside each other this one is: an address of its own, where it does not share the one of all. */
const SLOT = Number(process.env.VITEST_POOL_ID ?? 0)
const PORT = 3240 + 20 * SLOT
const ROOT = path.join(import.meta.dirname, '..')

/** The server that files of tests share, begun before them; null where there is none. Also told to the processes they run in. */
const sharedServer = () => process.env.RELIEF_SHARED_SERVER ?? null

/** Begins a server that all share who open from now on, here and in processes begun from here, and {@link prepareProfile}s for it. */
export async function shareServer(): Promise<ChildProcess> {
  const { server, address } = await startServer(PORT)
  process.env.RELIEF_SHARED_SERVER = address
  await prepareProfile(address)
  return server
}

async function startServer(port: number): Promise<{ server: ChildProcess; address: string }> {
  // A plain script without types; it also serves the screenshots.
  const start = (await import(SCRIPTS + 'start.mjs')) as {
    serve: (port: number) => Promise<{ server: ChildProcess; address: string }>
  }
  return start.serve(port)
}

/**
 * A browser's own data after the first start at an address: every file of tests begins with a copy of it. Made where it is not of
 * this build and this demo. @returns its folder.
 */
async function prepareProfile(address: string): Promise<string> {
  const folder = path.join(ROOT, '.build', `browser-profile-${new URL(address).port}`)
  const made = ['.next/built-from', 'demo/low-water.zip', 'demo/brass-gauge.zip']
    .map((file) => statSync(path.join(ROOT, file)))
    .map(({ mtimeMs, size }) => `${mtimeMs} ${size}`)
    .join()
  const stamp = path.join(folder, 'made-from')
  const data = path.join(folder, 'data')
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === made) return data
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(data, { recursive: true })
  const page = await BenchPage.begin(address, null, data)
  await page.driver.get(page.address)
  for (const name of ['Low Water', 'The Brass Gauge']) await page.text('*', name)
  await page.until(
    'both have pictures',
    async () => (await page.driver.findElements({ css: '.project-card img' })).length >= 2,
  )
  // What a first visit is told was read.
  await page.driver.executeAsyncScript(
    `const done = arguments[arguments.length - 1]
     const open = indexedDB.open('muted-relief')
     open.onsuccess = () => {
       const value = ['models', 'shot', 'passes', 'sheet', 'poster', 'turntable', 'export']
       const put = open.result.transaction('settings', 'readwrite').objectStore('settings').put({ key: 'hints-read', value })
       put.onsuccess = () => { open.result.close(); done() }
     }`,
  )
  await page.close({ keepsProfile: true })
  writeFileSync(stamp, made)
  return data
}

/** How long is waited for what a slow and busy machine may be long at, before it is held to be lost. Milliseconds. */
const PATIENCE = 180_000

/** The built application in a real browser, as a test drives it. */
export class BenchPage {
  private constructor(
    readonly driver: WebDriver,
    readonly downloads: string,
    readonly address: string,
    private server: ChildProcess | null,
    private readonly profile: string,
  ) {}

  /**
   * Opens the application, with the demo's projects in it.
   * @param isFirst whether it is the first start of all, which brings these in.
   * @param ownsServer whether it has a server of its own, which knows the environment as it is now and may be killed, where others share
   * one.
   */
  static async open({ isFirst = false, ownsServer = false } = {}): Promise<BenchPage> {
    const shared = ownsServer ? null : sharedServer()
    // What is stored belongs to an address: always the same one, as long as it is free.
    const { server, address } = shared ? { server: null, address: shared } : await startServer(PORT)
    if (isFirst) return BenchPage.begin(address, server)
    const profile = mkdtempSync(path.join(tmpdir(), 'relief-profile-'))
    cpSync(await prepareProfile(address), profile, { recursive: true })
    return BenchPage.begin(address, server, profile)
  }

  /** @param server what is ended with it. @param profile the browser's own data; none yet where left out. */
  static async begin(address: string, server: ChildProcess | null, profile?: string): Promise<BenchPage> {
    // A plain script without types; it also serves the screenshots.
    const browser = (await import(SCRIPTS + 'browser.mjs')) as {
      openBrowser: (options: {
        profile?: string
      }) => Promise<{ driver: WebDriver; downloads: string; profile: string }>
    }
    const opened = await browser.openBrowser({ profile })
    await opened.driver.manage().setTimeouts({ script: PATIENCE })
    return new BenchPage(opened.driver, opened.downloads, address, server, opened.profile)
  }

  async close({ keepsProfile = false } = {}): Promise<void> {
    await this.driver.quit()
    this.server?.kill()
    for (const folder of [this.downloads, ...(keepsProfile ? [] : [this.profile])])
      rmSync(folder, { recursive: true, force: true, maxRetries: 5 })
  }

  css(selector: string, timeoutMs = PATIENCE): Promise<WebElement> {
    return this.driver.wait(until.elementLocated(By.css(selector)), timeoutMs, `waiting for ${selector}`)
  }
  xpath(path: string): Promise<WebElement> {
    return this.driver.wait(until.elementLocated(By.xpath(path)), PATIENCE, `waiting for ${path}`)
  }
  text(tag: string, words: string, timeoutMs = PATIENCE): Promise<WebElement> {
    return this.driver.wait(
      until.elementLocated(By.xpath(`//${tag}[normalize-space(.)="${words}"]`)),
      timeoutMs,
      `waiting for ${tag} "${words}"`,
    )
  }
  async click(selector: string): Promise<void> {
    const element = await this.css(selector)
    // A menu that is still opening moves under the pointer: wait until the element stays where it is.
    await this.driver.executeAsyncScript(
      `const [element, done] = arguments
       element.scrollIntoView({ block: 'nearest', inline: 'nearest' })
       let last = ''
       const look = () => {
         const { x, y, width, height } = element.getBoundingClientRect()
         const now = [x, y, width, height].join()
         if (now === last) done()
         else { last = now; requestAnimationFrame(() => requestAnimationFrame(look)) }
       }
       look()`,
      element,
    )
    // A hint that is still fading may lie over it for a moment.
    await this.until(`${selector} can be clicked`, async () => {
      try {
        await element.click()
        return true
      } catch (cause) {
        if (cause instanceof error.ElementClickInterceptedError) return false
        throw cause
      }
    })
  }
  /** Chooses an option of a select by its value. */
  async choose(selector: string, value: string): Promise<void> {
    await this.click(`${selector} option[value="${value}"]`)
  }
  /** Presses keys on the page itself. */
  async press(...keys: string[]): Promise<void> {
    await this.driver.executeScript(
      'if (document.activeElement instanceof HTMLElement) document.activeElement.blur()',
    )
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform()
  }
  async chord(modifier: string, key: string): Promise<void> {
    await this.driver.executeScript(
      'if (document.activeElement instanceof HTMLElement) document.activeElement.blur()',
    )
    await this.driver.actions().keyDown(modifier).sendKeys(key).keyUp(modifier).perform()
  }
  readonly keys = Key

  /** Drags from the middle of one element to the left of another, in moves as a hand makes them. */
  async drag(from: WebElement, to: WebElement): Promise<void> {
    // Where the other stands before it makes room.
    const { x, y, width, height } = await to.getRect()
    const [left, middle] = [Math.round(x + width / 4), Math.round(y + height / 2)]
    await this.driver
      .actions()
      .move({ origin: from })
      .press()
      .move({ origin: from, x: -12, y: 2 })
      .move({ x: left + 20, y: middle })
      .pause(150)
      .move({ x: left, y: middle })
      .pause(150)
      .release()
      .perform()
  }

  /** A command of the browser's own protocol. */
  async devTools(command: string, params: object = {}): Promise<void> {
    // The driver of this browser knows it; the types of all browsers' do not.
    const driver = this.driver as unknown as {
      sendDevToolsCommand: (command: string, params: object) => Promise<void>
    }
    await driver.sendDevToolsCommand(command, params)
  }

  /** What a command of the browser's own protocol answers. */
  asked(command: string, params: object = {}): Promise<unknown> {
    const driver = this.driver as unknown as {
      sendAndGetDevToolsCommand: (command: string, params: object) => Promise<unknown>
    }
    return driver.sendAndGetDevToolsCommand(command, params)
  }

  /** The process that all others of the browser were begun by. */
  browserProcess(): number {
    const rows = execFileSync('ps', ['-eo', 'pid=,args='], { encoding: 'utf8' }).split('\n')
    const found = rows.find(
      (row) => row.includes(`--user-data-dir=${this.profile}`) && !row.includes('--type='),
    )
    if (!found) throw new Error('the browser is gone')
    return Number.parseInt(found, 10)
  }

  /** Has every page that is loaded from now on run a script before its own. */
  async beginWith(source: string): Promise<void> {
    await this.devTools('Page.addScriptToEvaluateOnNewDocument', { source })
  }

  /** Kills the application's server, and begins another in its place. @param meanwhile done while there is none. */
  async restartServer(meanwhile: () => Promise<void>): Promise<void> {
    const { server } = this
    if (!server) throw new Error('the server is not its own')
    const gone = new Promise((resolve) => server.once('exit', resolve))
    server.kill('SIGKILL')
    await gone
    await meanwhile()
    const next = await startServer(Number(new URL(this.address).port))
    if (next.address !== this.address) throw new Error(`the server came back at ${next.address}`)
    this.server = next.server
  }

  /** Has storage answer messages of a type as it does when it is full, on pages loaded from now on, while their `isFull` is true. */
  async fillStorage(type: string): Promise<void> {
    await this.beginWith(
      `window.isFull = true
       window.Worker = class extends Worker {
         postMessage(message, ...rest) {
           if (message?.type !== '${type}' || !window.isFull) return super.postMessage(message, ...rest)
           const data = { type: 'failed', request: message.request, name: 'QuotaExceededError', message: 'The quota has been exceeded.' }
           setTimeout(() => this.dispatchEvent(new MessageEvent('message', { data })))
         }
       }`,
    )
  }

  /** Turns the wheel over a point of the window. */
  async wheel(x: number, y: number, by: number): Promise<void> {
    await this.driver.actions().move({ x, y }).perform()
    // The driver knows the wheel; its types do not yet.
    const actions = this.driver.actions() as unknown as {
      scroll: (x: number, y: number, dx: number, dy: number) => { perform: () => Promise<void> }
    }
    await actions.scroll(x, y, 0, by).perform()
  }

  until<T>(what: string, check: () => Promise<T | false>, timeoutMs = PATIENCE): Promise<T> {
    return this.driver.wait(check, timeoutMs, `waiting until ${what}`) as Promise<T>
  }
  async bodyText(): Promise<string> {
    return (await this.css('body')).getText()
  }
  async saved(): Promise<void> {
    await this.until('all is saved', async () => {
      try {
        return (await (await this.css('[data-testid=saving]')).getText()) === 'Saved'
      } catch (error) {
        // The header is drawn anew where another step is gone to.
        if (error instanceof Error && error.name === 'StaleElementReferenceError') return false
        throw error
      }
    })
  }

  /** Waits until a sheet's proof is composed, and no newer picture of it comes. */
  async proofAtRest(): Promise<void> {
    const shown = () =>
      this.driver.executeScript<string>(
        `const { ariaBusy, dataset } = document.querySelector('[data-testid=proof]')
         return ariaBusy === 'true' ? '' : dataset.shown ?? ''`,
      )
    await this.until('the proof rests', async () => {
      const before = await shown()
      await this.driver.sleep(700)
      return before !== '' && (await shown()) === before
    })
  }

  /**
   * Goes to a place of the application as its own links do, without loading it anew: what works goes on, what is kept stays.
   * @param place its path: '/', '/project/low-water/sheet'.
   */
  async go(place: string): Promise<void> {
    const here = await this.driver.getCurrentUrl()
    if (!here.startsWith(this.address)) await this.driver.get(this.address)
    await this.until('the application is there', () =>
      this.driver.executeScript<boolean>('return window.next?.router !== undefined'),
    )
    await this.driver.executeScript('window.next.router.push(arguments[0])', place)
    await this.until(`${place} is gone to`, () =>
      this.driver.executeScript<boolean>(
        `const [place] = arguments
         const step = document.querySelector('.rail a[aria-current=page]')
         return location.pathname === place && (place.startsWith('/project/') ? step?.pathname === place : !step)`,
        place,
      ),
    )
  }

  /** Opens the demo's sheet, and waits until its proof stands. */
  async openDemoSheet(): Promise<void> {
    await this.driver.get(this.address)
    await this.css('.project-card')
    await this.go('/project/low-water/sheet')
    await this.css('[data-testid="card-Dusk from above"]')
    await this.css('canvas[aria-label=Proof]')
  }

  /** RGBA of a canvas at shares of its size; nothing while it is not there. */
  pixel(label: string, x01: number, y01: number): Promise<number[]> {
    return this.driver.executeScript(
      `const c = document.querySelector('canvas[aria-label="' + arguments[0] + '"]');
       if (!c) return [];
       const copy = new OffscreenCanvas(1, 1).getContext('2d');
       copy.drawImage(c, Math.floor(arguments[1] * c.width), Math.floor(arguments[2] * c.height), 1, 1, 0, 0, 1, 1);
       return Array.from(copy.getImageData(0, 0, 1, 1).data)`,
      label,
      x01,
      y01,
    )
  }

  /** A finished download of that name. */
  async download(name: string): Promise<Buffer> {
    const file = path.join(this.downloads, name)
    await this.until(
      `${name} is downloaded (there: ${readdirSync(this.downloads).join()})`,
      async () => existsSync(file) && !existsSync(`${file}.crdownload`),
    )
    return readFileSync(file)
  }

  /** Removes a finished download, so that one of the same name is known to be another. */
  forget(name: string): void {
    rmSync(path.join(this.downloads, name), { force: true })
  }

  /** Decodes a picture by the browser: an independent reader of what the exporter wrote. */
  decode(
    bytes: Buffer,
    points: readonly (readonly [number, number])[],
  ): Promise<{ width: number; height: number; pixels: number[][] }> {
    return this.driver.executeAsyncScript(
      `const done = arguments[arguments.length - 1];
       const image = new Image();
       image.onload = () => {
         const c = document.createElement('canvas'); c.width = image.width; c.height = image.height;
         const g = c.getContext('2d'); g.drawImage(image, 0, 0);
         done({ width: c.width, height: c.height, pixels: arguments[1].map(([x, y]) => Array.from(g.getImageData(Math.floor(x * c.width), Math.floor(y * c.height), 1, 1).data)) })
       };
       image.onerror = () => done({ width: 0, height: 0, pixels: [] });
       image.src = 'data:image/png;base64,' + arguments[0]`,
      bytes.toString('base64'),
      points,
    )
  }
}
