// One file: one turntable from its making to its film: each test goes on from the state of the one before.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readdirSync, rmSync, statSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { unzipSync } from 'fflate'
import sharp from 'sharp'
import { violations } from './accessibility'
import { BenchPage } from './bench-page'
import { storedProject } from './stored-project'

/** A turntable from its first press to its film: by pointer, and by keyboard alone. */
let page: BenchPage
beforeAll(async () => {
  page = await BenchPage.open()
  await page.driver.get(page.address)
  await page.text('*', 'The Brass Gauge')
  await page.go('/project/brass-gauge/turntable')
  await page.css('[data-testid=turn-dial]')
})
afterAll(async () => {
  await page?.close()
})

const id = 'brass-gauge'
const turn = async () => {
  await page.saved()
  return (await storedProject(page, id)).turns[0]
}
const words = async (selector: string) => (await page.css(selector)).getText()
const value = async (selector: string) =>
  Number(await (await page.css(selector)).getAttribute('aria-valuenow'))
const frame = () => value('[data-testid=playhead]')
/** Types a number into a row of the inspector. */
async function type(label: string, number: number): Promise<void> {
  const input = await page.xpath(
    `//aside//*[contains(@class, "frame-row")][label[normalize-space(.)="${label}"]]//input`,
  )
  await page.driver.executeScript("arguments[0].scrollIntoView({ block: 'center' })", input)
  await input.click()
  await page.driver.actions().keyDown(page.keys.CONTROL).sendKeys('a').keyUp(page.keys.CONTROL).perform()
  await input.sendKeys(String(number), page.keys.ENTER)
}
/** Waits for a film that is being written; one that cannot be made is told in words. */
const filmWritten = () =>
  page.until('it is written', async () => {
    const told = await words('[data-testid=film-told]')
    if (/could not be made|cancelled/.test(told)) throw new Error(told)
    return /is with your downloads/.test(told)
  })
const filmMeasured = () =>
  page.until('its size is told', async () => {
    const told = await words('[data-testid=film-size]')
    if (/cannot be told|not rendered/.test(told)) throw new Error(told)
    return / About \d/.test(told)
  })
/** Tells a film by the browser's own reader of animated pictures. */
interface Film {
  readonly count: number
  readonly width: number
  readonly height: number
  readonly seconds: number
  readonly plays: number
  /** Pixel in the middle of the first frame's upper left, and of the whole. */
  readonly pixels: readonly (readonly number[])[]
}
const readFilm = (bytes: Buffer, type: string): Promise<Film> =>
  page.driver.executeAsyncScript<Film>(
    `const [text, type, done] = arguments
     ;(async () => {
       const data = Uint8Array.from(atob(text), (c) => c.charCodeAt(0))
       const decoder = new ImageDecoder({ data, type, colorSpaceConversion: 'none' })
       await decoder.tracks.ready
       const { frameCount, repetitionCount } = decoder.tracks.selectedTrack
       let seconds = 0, width = 0, height = 0
       const pixels = []
       for (let frameIndex = 0; frameIndex < frameCount; frameIndex++) {
         const { image } = await decoder.decode({ frameIndex })
         seconds += image.duration / 1e6
         width = image.displayWidth; height = image.displayHeight
         const g = new OffscreenCanvas(width, height).getContext('2d')
         g.drawImage(image, 0, 0)
         pixels.push(Array.from(g.getImageData(Math.round(0.02 * width), Math.round(0.9 * height), 1, 1).data))
         image.close()
       }
       done({ count: frameCount, width, height, seconds, plays: repetitionCount === Infinity ? 0 : repetitionCount + 1, pixels })
     })().catch((error) => done({ count: -1, width: 0, height: 0, seconds: 0, plays: 0, pixels: [[String(error)]] }))`,
    bytes.toString('base64'),
    type,
  )
interface Played {
  readonly width: number
  readonly height: number
  readonly seconds: number
  readonly corner: readonly number[]
  readonly middle: readonly number[]
}
/** Tells a film by the browser's player, on a page of its own: the application's plays none. */
async function playFilm(bytes: Buffer, type: string): Promise<Played> {
  const own = await page.driver.getWindowHandle()
  await page.driver.switchTo().newWindow('tab')
  const played = await page.driver.executeAsyncScript<Played>(
    `const [text, type, done] = arguments
     const video = document.createElement('video')
     video.muted = true
     video.onerror = () => done({ width: 0, height: 0, seconds: 0, corner: [], middle: [] })
     video.onseeked = () => {
       const { videoWidth: width, videoHeight: height, duration } = video
       const g = new OffscreenCanvas(width, height).getContext('2d')
       g.drawImage(video, 0, 0)
       const at = (x, y) => Array.from(g.getImageData(Math.round(x * width), Math.round(y * height), 1, 1).data)
       done({ width, height, seconds: duration, corner: at(0.02, 0.9), middle: at(0.48, 0.75) })
     }
     video.onloadeddata = () => { video.currentTime = 0.05 }
     video.src = URL.createObjectURL(new Blob([Uint8Array.from(atob(text), (c) => c.charCodeAt(0))], { type }))`,
    bytes.toString('base64'),
    type,
  )
  await page.driver.close()
  await page.driver.switchTo().window(own)
  return played
}

describe('a turntable', () => {
  it('is looked at in clay before anything is rendered, with every control named', async () => {
    expect(await words('[data-testid=turn-state]')).toBe('clay, not rendered yet')
    expect(await violations(page)).toEqual([])
  })

  it('is turned by its dial, its ruler and its playhead, by keys and by pointer', async () => {
    const dial = await page.css('[data-testid=turn-dial]')
    const { x, y, width, height } = await dial.getRect()
    const middle = { x: Math.round(x + width / 2), y: Math.round(y + height / 2) }
    await page.driver
      .actions()
      .move(middle)
      .move({ x: middle.x + 60, y: middle.y })
      .press()
      .release()
      .perform()
    // A quarter of the first turn.
    await page.until('it stands at 90°', async () => (await frame()) === 15)
    await dial.sendKeys(page.keys.ARROW_RIGHT, page.keys.PAGE_UP)
    await page.until('it is the same place of the second', async () => (await frame()) === 76)
    const ruler = await page.css('[data-testid=turn-ruler]')
    const box = await ruler.getRect()
    await page.driver
      .actions()
      .move({ x: Math.round(box.x + box.width / 2), y: Math.round(box.y + 30) })
      .press()
      .release()
      .perform()
    await page.until('it is half over', async () => Math.abs((await frame()) - 60) <= 1)
    await page.press(page.keys.HOME)
    await page.until('it is at its beginning', async () => (await frame()) === 0)
    // Round the end.
    await page.press(page.keys.ARROW_LEFT)
    await page.until('it is at its end', async () => (await frame()) === 119)
  })

  it('takes turns, frames, seconds and rate, any of them typed; what happens in it keeps its place', async () => {
    const before = await turn()
    await type('Frames a turn', 6)
    await page.until('it is shorter', async () => (await turn()).motion.framesPerTurn === 6)
    const after = await turn()
    expect(after.reveals[0].whole).toBe(Math.round(before.reveals[0].whole / 10))
    expect(after.reveals[0].gone).toBe(12)
    await type('Lasts', 2)
    await page.until('it lasts two seconds', async () => (await turn()).motion.framesPerTurn === 12)
    await type('Frames in all', 8)
    await page.until('it has eight frames', async () => (await turn()).motion.framesPerTurn === 4)
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('that is undone', async () => (await turn()).motion.framesPerTurn === 12)
    await type('Frames in all', 8)
    await page.until('it is done again', async () => (await turn()).motion.framesPerTurn === 4)
  })

  it('lets layers come in by one press, changed by handles on their lanes and by numbers', async () => {
    await page.click('[data-testid=ready-drawn]')
    await page.until('the contour draws itself', async () =>
      (await turn()).reveals.some(({ kind }) => kind === 'drawn'),
    )
    const handle = await page.css('[aria-label="Contour is whole"]')
    const at = await value('[aria-label="Contour is whole"]')
    await handle.sendKeys(page.keys.ARROW_RIGHT)
    await page.until(
      'it is whole later',
      async () => (await value('[aria-label="Contour is whole"]')) === at + 1,
    )
    await type('From', 1)
    await page.until('it comes later', async () =>
      (await turn()).reveals.some(({ kind, from }) => kind === 'drawn' && from === 1),
    )
    await page.choose('[data-testid=reveal-kind]', 'sweep')
    await page.css('[title="Edge of the sweep"]')
    expect(await violations(page)).toEqual([])
    const edge = await page.css('[title="Angle of the sweep"]')
    const angle = async () => (await turn()).reveals.find(({ kind }) => kind === 'sweep')?.angleDeg
    await edge.sendKeys(page.keys.ARROW_DOWN)
    await page.until('its angle is a number', async () => typeof (await angle()) === 'number')
  })

  it('keys any value of a layer at the playhead', async () => {
    await page.press(page.keys.HOME)
    const opacity = await page.xpath('//select[@data-testid="add-key"]/option[normalize-space(.)="Opacity"]')
    await opacity.click()
    await page.until('a key is set', async () => (await turn()).tracks.length === 2)
    await page.press(page.keys.END)
    const field = await page.xpath('//div[@role="group"][@aria-label="Opacity"]//input[@inputmode="decimal"]')
    await field.sendKeys(page.keys.ARROW_DOWN)
    await page.until('another is', async () => (await turn()).tracks[1].keys.length === 2)
    const track = (await turn()).tracks[1]
    expect(track.keys.map(({ at }) => at)).toEqual([0, 7])
    expect(track.keys[1].value).toBeLessThan(track.keys[0].value as number)
    await (await page.text('button', 'Remove key')).click()
    await page.until('it is gone', async () => (await turn()).tracks[1].keys.length === 1)
  })

  it('moves the camera besides', async () => {
    await (await page.xpath('//button[.//b[text()="Camera"]]')).click()
    await page.css('section[aria-label="Camera keys"]')
    const push = await page.xpath('//div[@role="group"][@aria-label="Push in"]//input[@inputmode="decimal"]')
    await push.sendKeys(page.keys.ARROW_UP)
    await page.until('it is keyed', async () => (await turn()).camera.push.length === 1)
    expect(await violations(page)).toEqual([])
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('it is not', async () => (await turn()).camera.push.length === 0)
  })
})

describe('a path of the camera', () => {
  it('goes through views that were kept, by keyboard too', async () => {
    await page.press(page.keys.ESCAPE)
    await page.click('.rail a[href$="/shot"]')
    await page.css('[data-testid=keep-view]')
    await page.press('k')
    await page.until('a view is kept', async () => {
      await page.saved()
      return (await storedProject(page, id)).shots[0].views.length === 1
    })
    await page.click('.rail a[href$="/turntable"]')
    await page.css('[data-testid=turn-dial]')
    await (await page.xpath('//button[.//b[text()="Camera"]]')).click()
    const chosen = async () =>
      page.css('section[aria-label="Path through kept views"] select option:nth-child(2)')
    await (await chosen()).click()
    await page.until('it begins there', async () => (await turn()).camera.views.length === 1)
    await page.xpath('//button[.//b[text()="Camera"]][contains(., "through one kept view")]')
    expect(await violations(page)).toEqual([])
    const out = await page.css(
      'section[aria-label="Path through kept views"] button[aria-label^="Leave out"]',
    )
    await out.sendKeys(page.keys.ENTER)
    await page.until('it is left out', async () => (await turn()).camera.views.length === 0)
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('it is there again', async () => (await turn()).camera.views.length === 1)
    await page.chord(page.keys.CONTROL, 'z')
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('nothing is left of it', async () => (await turn()).camera.views.length === 0)
    await page.press(page.keys.ESCAPE)
  })
})

describe('its frames', () => {
  it('are rendered, kept over a reload, and go on from there', async () => {
    await page.choose('[data-testid=turn-quality]', 'draft')
    await page.choose('[data-testid=turn-size]', '640')
    await page.click('[data-testid=render-turn]')
    await page.until('some frames are there', async () =>
      /^[1-7] of 8/.test(await words('[data-testid=frames-there]')),
    )
    await page.click('[data-testid=pause-turn]')
    await page.text('button', 'Go on')
    await page.click('[data-testid=render-turn]')
    await page.css('[data-testid=pause-turn]')
    // Before the last is there.
    await page.driver.navigate().refresh()
    await page.css('[data-testid=turn-dial]')
    await page.until('it has gone on to the end', async () =>
      (await words('[data-testid=frames-there]')).startsWith('8 of 8'),
    )
    expect(await words('[data-testid=frames-told]')).toContain('All frames are there')
    await page.press(page.keys.HOME)
    await page.until('the frame is shown', async () => (await words('[data-testid=turn-state]')) === 'draft')
  })

  it('are only those again that a change shows in', async () => {
    const before = (await turn()).reveals.map(({ layerId }) => layerId)
    expect(before).toContain('layer-plate')
    // The statistics come later: nothing else.
    await (await page.xpath('//button[.//b[text()="Statistics"]]')).click()
    const from = (await turn()).reveals.find(({ layerId }) => layerId === 'layer-plate')
    await type('Whole by', (from?.whole ?? 0) + 1)
    await page.until('some are missing', async () =>
      /^[4-7] of 8/.test(await words('[data-testid=frames-there]')),
    )
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('all are there again', async () =>
      (await words('[data-testid=frames-there]')).startsWith('8 of 8'),
    )
  })

  it('say where there is no room for them, and go on once there is', async () => {
    await page.driver.executeScript(
      `window.roomyPut = IDBObjectStore.prototype.put
       IDBObjectStore.prototype.put = function (...given) {
         if (this.name === 'frames') throw new DOMException('full', 'QuotaExceededError')
         return window.roomyPut.apply(this, given)
       }`,
    )
    const before = (await turn()).reveals.find(({ layerId }) => layerId === 'layer-plate')
    await type('Whole by', (before?.whole ?? 0) + 1)
    await page.until('some are missing', async () =>
      /^[4-7] of 8/.test(await words('[data-testid=frames-there]')),
    )
    await page.click('[data-testid=render-turn]')
    await page.until('that is said', async () =>
      /Frame \d+ could not be kept: .*(room|storage|full)/i.test(await words('aside')),
    )
    await page.driver.executeScript('IDBObjectStore.prototype.put = window.roomyPut')
    await page.click('[data-testid=render-turn]')
    await page.until('all are there', async () =>
      (await words('[data-testid=frames-there]')).startsWith('8 of 8'),
    )
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('it is as before', async () => {
      const now = (await turn()).reveals.find(({ layerId }) => layerId === 'layer-plate')
      return now?.whole === before?.whole && (await words('[data-testid=frames-there]')).startsWith('8 of 8')
    })
  })

  it('are played at their rate, there and back, from mark to mark', async () => {
    await page.press(' ')
    await page.css('[data-testid=dropped]')
    await page.until('it plays', async () => (await frame()) > 0)
    expect(await words('[data-testid=dropped]')).toMatch(/^12 a second, (none|\d+) dropped$/)
    await page.press(' ')
    await page.until(
      'it stands',
      async () => (await page.driver.findElements({ css: '[data-testid=dropped]' })).length === 0,
    )
    await page.press(page.keys.HOME, page.keys.ARROW_RIGHT, page.keys.ARROW_RIGHT, 'b')
    await page.press(page.keys.ARROW_RIGHT, page.keys.ARROW_RIGHT, 'e')
    await page.until(
      'a part is marked',
      async () => (await words('[data-testid=marks]')) === 'frames 2–4: play all',
    )
    await page.click('[data-testid=marks]')
    await page.until('all is', async () => (await turn()).marks === null)
  })

  it('show the frame before, and what differs between the last and the first', async () => {
    await page.choose('[data-testid=over]', 'ghost')
    await page.until('it is shown', async () => (await words('[data-testid=turn-state]')) === 'draft')
    await page.choose('[data-testid=over]', 'closing')
    await page.until('that is said', async () =>
      (await words('[data-testid=turn-state]')).startsWith('first against last'),
    )
    await page.choose('[data-testid=over]', 'nothing')
  })
})

describe('its film', () => {
  const write = async (format: string): Promise<void> => {
    await page.click('[data-testid=export-film]')
    await page.choose('[data-testid=film-format]', format)
    await filmMeasured()
    if (format === 'mp4') expect(await violations(page)).toEqual([])
    await page.click('[data-testid=write-film]')
    await filmWritten()
    await (await page.text('button', 'Close')).click()
  }
  let corner: number[] = []

  it('leaves as numbered pictures', async () => {
    await write('png')
    const files = unzipSync(await page.download('two-turns.zip'))
    expect(Object.keys(files)).toEqual(Array.from({ length: 8 }, (_, i) => `two-turns_000${i}.png`))
    const picture = await page.decode(Buffer.from(files['two-turns_0000.png']), [[0.02, 0.9]])
    expect([picture.width, picture.height]).toEqual([640, 360])
    corner = picture.pixels[0]
    expect(corner[3]).toBe(255)
  })
  it.each([
    ['gif', 'two-turns.gif', 'image/gif', 12],
    ['apng', 'two-turns.png', 'image/png', 0],
    ['webp', 'two-turns.webp', 'image/webp', 8],
  ] as const)('leaves as %s, read by the browser', async (format, name, type, tolerance) => {
    await write(format)
    const film = await readFilm(await page.download(name), type)
    expect(film).toMatchObject({ count: 8, width: 640, height: 360, plays: 0 })
    expect(film.seconds).toBeCloseTo(8 / 12, 1)
    film.pixels.forEach((pixel) =>
      pixel.forEach((v, c) => expect(Math.abs(v - corner[c])).toBeLessThanOrEqual(tolerance)),
    )
  })
  it.each([
    ['mp4', 'two-turns.mp4', 'video/mp4'],
    ['webm', 'two-turns.webm', 'video/webm'],
    ['av1', 'two-turns.webm', 'video/webm'],
  ] as const)('leaves as %s, played by the browser', async (format, name, type) => {
    rmSync(path.join(page.downloads, name), { force: true })
    await write(format)
    const film = await playFilm(await page.download(name), type)
    expect([film.width, film.height]).toEqual([640, 360])
    expect(film.seconds).toBeCloseTo(8 / 12, 1)
    film.corner.forEach((v, c) => expect(Math.abs(v - corner[c])).toBeLessThanOrEqual(10))
  })

  it('keeps what is clear, where its kind of film can', async () => {
    await page.press(page.keys.ESCAPE)
    const clear = await page.css('input[aria-label="Clear ground"]')
    await page.driver.executeScript("arguments[0].scrollIntoView({ block: 'center' })", clear)
    await clear.sendKeys(page.keys.SPACE)
    await page.until('it is clear', async () => (await turn()).isClear)
    await page.click('.rail a[href$="/sheet"]')
    await page.click('[data-testid="card-Ground"]')
    await page.press('h')
    await page.until('the ground is hidden', async () => {
      await page.saved()
      const { sheets } = await storedProject(page, id)
      return Object.values(sheets[0].nodes).some(({ name, visible }) => name === 'Ground' && !visible)
    })
    await page.click('.rail a[href$="/turntable"]')
    await page.css('[data-testid=turn-dial]')
    await page.until('none is there yet', async () =>
      (await words('[data-testid=frames-there]')).startsWith('0 of 8'),
    )
    await page.click('[data-testid=render-turn]')
    await page.until(
      'they are there',
      async () => (await words('[data-testid=frames-there]')).startsWith('8 of 8'),
      240_000,
    )
    rmSync(path.join(page.downloads, 'two-turns.webm'), { force: true })
    await write('webm')
    const film = await playFilm(await page.download('two-turns.webm'), 'video/webm')
    expect(film.corner[3]).toBe(0)
    expect(film.middle[3]).toBe(255)
    rmSync(path.join(page.downloads, 'two-turns.mp4'), { force: true })
    await write('mp4')
    const solid = await playFilm(await page.download('two-turns.mp4'), 'video/mp4')
    solid.corner.forEach((v) => expect(v).toBeGreaterThan(245))
    // As it was: what is undone is there at once.
    for (let k = 0; k < 2; k++) await page.chord(page.keys.CONTROL, 'z')
    await page.until('all is there again', async () =>
      (await words('[data-testid=frames-there]')).startsWith('8 of 8'),
    )
  })
})

/** Files that films left on the browser's own disk, by folder and name. */
const filmsOnDisk = () =>
  page.driver.executeAsyncScript<string[]>(
    `const done = arguments[0]
     ;(async () => {
       const films = await (await navigator.storage.getDirectory()).getDirectoryHandle('films')
       const found = []
       for await (const [tab, folder] of films.entries()) {
         if (folder.kind === 'file') found.push(tab)
         else for await (const name of folder.keys()) found.push(tab + '/' + name)
       }
       done(found)
     })().catch(() => done([]))`,
  )

describe('a film that is broken off', () => {
  it('is swept up where its tab is not open any more, and only there', async () => {
    const first = await page.driver.getWindowHandle()
    await page.driver.switchTo().newWindow('tab')
    await page.driver.get(`${page.address}/guide`)
    await page.driver.executeAsyncScript(
      `const done = arguments[0]
       navigator.locks.request('muted-relief films open', () => new Promise(() => undefined))
       ;(async () => {
         const films = await (await navigator.storage.getDirectory()).getDirectoryHandle('films', { create: true })
         for (const tab of ['open', 'crashed']) {
           const folder = await films.getDirectoryHandle(tab, { create: true })
           await folder.getFileHandle('film', { create: true })
         }
         // As they lay before tabs had folders of their own.
         await films.getFileHandle('1700000000000-abc', { create: true })
         done()
       })()`,
    )
    const holder = await page.driver.getWindowHandle()
    const isThere = async (name: string) => (await filmsOnDisk()).includes(name)
    await page.driver.switchTo().newWindow('tab')
    const start = await page.driver.getWindowHandle()
    await page.driver.get(page.address)
    for (const left of ['crashed/film', '1700000000000-abc'])
      await page.until(`${left} is gone`, async () => !(await isThere(left)))
    expect(await isThere('open/film')).toBe(true)
    await page.driver.switchTo().window(holder)
    await page.driver.close()
    await page.driver.switchTo().window(start)
    await page.driver.navigate().refresh()
    await page.until('the other one is gone too', async () => !(await isThere('open/film')))
    await page.driver.close()
    await page.driver.switchTo().window(first)
  })
  it('leaves nothing behind, and can be begun again', async () => {
    const before = readdirSync(page.downloads).sort()
    await page.click('[data-testid=export-film]')
    await page.choose('[data-testid=film-format]', 'mp4')
    const often = await page.xpath(
      '//*[@role="dialog"]//*[label[normalize-space(.)="Written so often"]]//input',
    )
    await often.click()
    await often.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), '400', page.keys.ENTER)
    await filmMeasured()
    await page.click('[data-testid=write-film]')
    await (await page.text('button', 'Cancel')).click()
    await page.until('that is said', async () =>
      /cancelled\. Nothing was written/.test(await words('[data-testid=film-told]')),
    )
    expect(readdirSync(page.downloads).sort()).toEqual(before)
    await page.until('what it had written is gone', async () => (await filmsOnDisk()).length === 0)
    await often.click()
    await often.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), '1', page.keys.ENTER)
    rmSync(path.join(page.downloads, 'two-turns.mp4'), { force: true })
    await page.click('[data-testid=write-film]')
    await filmWritten()
    // What was handed over stays until the next one, as the browser may still be reading it.
    expect((await filmsOnDisk()).length).toBe(1)
    await page.click('[data-testid=write-film]')
    await filmWritten()
    await page.until('only the last one is there', async () => (await filmsOnDisk()).length === 1)
    await (await page.text('button', 'Close')).click()
  })
})

describe('a film of which a frame is gone', () => {
  /** Takes the frames out of storage, behind the application's back, or puts them back. */
  const frames = (isThere: boolean) =>
    page.driver.executeAsyncScript(
      `const [isThere, done] = arguments
       const open = indexedDB.open('muted-relief')
       open.onsuccess = () => {
         const change = open.result.transaction('frames', 'readwrite')
         const store = change.objectStore('frames')
         if (isThere) for (const row of window.framesBefore) store.put(row)
         else store.getAll().onsuccess = ({ target }) => { window.framesBefore = target.result; store.clear() }
         change.oncomplete = () => { open.result.close(); done() }
       }`,
      isThere,
    )

  it('says so, and leaves nothing', async () => {
    const before = readdirSync(page.downloads).sort()
    await frames(false)
    await page.click('[data-testid=export-film]')
    await page.choose('[data-testid=film-format]', 'gif')
    await page.until('its size cannot be told', async () =>
      (await words('[data-testid=film-size]')).endsWith(
        'Its size cannot be told: frame 0 is not rendered any more.',
      ),
    )
    await page.click('[data-testid=write-film]')
    await page.until('that is said', async () =>
      /^two-turns\.gif could not be made: frame 0 is not rendered any more/.test(
        await words('[data-testid=film-told]'),
      ),
    )
    expect(readdirSync(page.downloads).sort()).toEqual(before)
    await frames(true)
    await (await page.text('button', 'Close')).click()
  })
})

describe('what it is looked through with', () => {
  const open = async (format: string): Promise<void> => {
    await page.click('[data-testid=export-film]')
    await page.choose('[data-testid=film-format]', format)
  }
  const written = async (): Promise<void> => {
    await filmMeasured()
    await page.click('[data-testid=write-film]')
    await filmWritten()
    await (await page.text('button', 'Close')).click()
  }
  /** Of the zip that was written last: its first picture. */
  const first = async () => {
    const zips = readdirSync(page.downloads).filter((name) => name.endsWith('.zip'))
    const last = zips.sort((a, b) => at(a) - at(b)).at(-1) ?? ''
    const files = unzipSync(await page.download(last))
    return sharp(Buffer.from(files[Object.keys(files)[0]]))
      .raw()
      .toBuffer({ resolveWithObject: true })
  }
  const at = (name: string) => statSync(path.join(page.downloads, name)).mtimeMs

  it('has frame and angle burned into pictures that stay as they are elsewhere', async () => {
    await open('png')
    await page.click('input[aria-label="Burn-in"]')
    expect(await violations(page)).toEqual([])
    await written()
    const burned = await first()
    await open('png')
    await written()
    const plain = await first()
    expect([burned.info.width, burned.info.height]).toEqual([plain.info.width, plain.info.height])
    const rows = { changed: 0, above: 0 }
    for (let i = 0; i < plain.data.length; i += 4) {
      if (burned.data.subarray(i, i + 3).equals(plain.data.subarray(i, i + 3))) continue
      rows.changed++
      if (i / 4 / plain.info.width < 0.85 * plain.info.height) rows.above++
    }
    expect(rows.changed).toBeGreaterThan(1000)
    expect(rows.above).toBe(0)
  })
  it('is seen beside another turntable, whose frames are there already where they show the same', async () => {
    await page.press(page.keys.ESCAPE)
    await page.click('[data-testid=turns]')
    await (await page.text('li', 'Copy this one')).click()
    await page.until('the copy has its frames', async () =>
      (await words('[data-testid=frames-there]')).startsWith('8 of 8'),
    )
    await open('png')
    await (await page.css('[data-testid=beside] option:nth-child(2)')).click()
    await written()
    const { data, info } = await first()
    expect([info.width, info.height]).toEqual([1280, 360])
    const pixel = (x: number, y: number) => [...data.subarray(4 * (y * 1280 + x), 4 * (y * 1280 + x) + 4)]
    for (const x of [12, 200, 320, 600]) expect(pixel(x, 180)).toEqual(pixel(640 + x, 180))
  })
  it('leaves as a sheet of stills, closer views below them', async () => {
    await open('stills')
    for (const [label, number] of [
      ['Stills', 4],
      ['Columns', 2],
    ] as const) {
      const field = await page.xpath(`//*[@role="dialog"]//*[label[normalize-space(.)="${label}"]]//input`)
      await field.click()
      await field.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), String(number), page.keys.ENTER)
    }
    await (await page.css('[data-testid=closer] option:nth-child(2)')).click()
    await written()
    const name = readdirSync(page.downloads).find((own) => own.endsWith('_stills.png')) ?? ''
    const { width, height } = await sharp(await page.download(name)).metadata()
    const [margin, gap] = [32, 16]
    expect([width, height]).toEqual([2 * margin + 2 * 640 + gap, 2 * margin + 4 * 360 + 3 * gap])
    await page.chord(page.keys.CONTROL, 'z')
    await page.until('the copy is gone', async () => {
      await page.saved()
      return (await storedProject(page, id)).turns.length === 1
    })
  })
})

describe('what it is presented with', () => {
  it.each(['shadow', 'reflection'])('says what a %s on the ground wants', async (kind) => {
    await page.press(page.keys.ESCAPE)
    await page.click(`[data-testid=present-${kind}]`)
    await page.until('it is said', async () =>
      /No part is the ground/.test(await (await page.css('body')).getText()),
    )
  })
  it('is made in one press, typed over, and is no part of the still', async () => {
    await page.click('[data-testid=present-caption]')
    const text = await page.css('textarea.words')
    await text.sendKeys(page.keys.chord(page.keys.CONTROL, 'a'), 'Frame {frame} of {frames}')
    const layers = async () => {
      await page.saved()
      const { sheets } = await storedProject(page, id)
      return Object.values(sheets[0].nodes)
    }
    await page.until('it is typed', async () =>
      (await layers()).some(
        (node) => node.content.kind === 'type' && node.content.text === 'Frame {frame} of {frames}',
      ),
    )
    const [caption] = (await layers()).filter(({ name }) => name === 'Caption')
    expect(caption.visible).toBe(false)
    expect((await turn()).reveals.some(({ layerId }) => layerId === caption.id)).toBe(true)
    expect(await violations(page)).toEqual([])
    await page.press(page.keys.ESCAPE)
    await page.click('[data-testid=present-card]')
    await page.until('the card lies before all', async () => {
      await page.saved()
      const { sheets } = await storedProject(page, id)
      return sheets[0].nodes[sheets[0].roots.at(-1) ?? ''].name === 'Title card'
    })
    // On a busy machine every letter may be a step of its own.
    await page.until('both are taken back', async () => {
      await page.chord(page.keys.CONTROL, 'z')
      return !(await layers()).some(({ name }) => name === 'Caption' || name === 'Title card')
    })
  })
})

describe('sequences that are brought in', () => {
  const bring = async (...files: readonly string[]) =>
    (await page.css('[data-testid=sequence-input]')).sendKeys(files.join('\n'))
  const sequences = async () => {
    await page.saved()
    return (await storedProject(page, id)).sequences
  }
  const told = (words: RegExp) =>
    page.until(`${words} is told`, async () => words.test(await (await page.css('body')).getText()))
  const takenBack = () =>
    page.until('it is taken back', async () => {
      await page.chord(page.keys.CONTROL, 'z')
      return (await sequences()).length === 0
    })

  it('are numbered pictures, with what is missing and of another size told', async () => {
    const files: string[] = []
    for (const [number, width] of [
      [1, 640],
      [2, 640],
      [4, 640],
      [5, 320],
    ]) {
      const file = path.join(page.downloads, `fog_${number}.png`)
      const fog = { r: 0, g: 60, b: 60, alpha: 0.5 }
      await sharp({ create: { width, height: 360, channels: 4, background: fog } })
        .png()
        .toFile(file)
      files.push(file)
    }
    await bring(...files)
    await page.until('they are there', async () => (await sequences()).length === 1)
    const [{ frames, width, height, name, first }] = await sequences()
    expect([width, height, name, first]).toEqual([640, 360, 'fog', 1])
    expect(frames.map(({ number }) => number)).toEqual([1, 2, 4])
    await told(/3 pictures, 1 to 5; missing: 3, 5; left out, because not 640 × 360: fog_5.png/)
    expect(await (await page.css('section[aria-label=Sequence]')).getText()).toContain('Missing: 3')
    expect(await violations(page)).toEqual([])
    await page.choose('section[aria-label=Sequence] select', 'rate')
    const layer = async () => {
      await page.saved()
      const { sheets } = await storedProject(page, id)
      const node = sheets[0].nodes[sheets[0].roots.at(-1) ?? '']
      return node.content.kind === 'picture' ? node.content : null
    }
    await page.until('it goes at its own rate', async () => (await layer())?.sequence?.rate === 12)
    // Nothing is lighter than it covers.
    expect((await layer())?.premultiplied).toBe(true)
    await takenBack()
  })
  it('are films, unfolded into their pictures', async () => {
    await bring(path.join(page.downloads, 'two-turns.webm'))
    await page.until('it is there', async () => (await sequences()).length === 1)
    const [{ frames, width, height }] = await sequences()
    expect([frames.length, width, height]).toEqual([8, 640, 360])
    await takenBack()
    await bring(path.join(page.downloads, 'two-turns.gif'))
    await page.until('so is the other', async () => (await sequences()).length === 1)
    expect((await sequences())[0].frames).toHaveLength(8)
    await takenBack()
  })
  it('are refused by name where they are none', async () => {
    const file = path.join(page.downloads, 'broken.mp4')
    writeFileSync(file, 'no film')
    await bring(file)
    await told(/broken.mp4: cannot be read as a film/)
    expect(await sequences()).toEqual([])
  })
})

describe('by keyboard alone', () => {
  it('a turntable is begun, revealed and closed again', async () => {
    await page.chord(page.keys.CONTROL, 'k')
    await (await page.css('[role=dialog] input')).sendKeys('New turntable of this sheet', page.keys.ENTER)
    await page.until('there are two', async () => {
      await page.saved()
      return (await storedProject(page, id)).turns.length === 2
    })
    const wires = await page.css('[data-testid=ready-wires]')
    await wires.sendKeys(page.keys.ENTER)
    await page.until('the wire comes', async () => {
      await page.saved()
      return (await storedProject(page, id)).turns[1].reveals.length === 1
    })
    const state = async () => (await page.css('.rail a[href$="/turntable"]')).getAttribute('data-state')
    await page.press('r')
    await page.until('it is rendered', async () => (await state()) === 'rendering')
    await page.chord(page.keys.CONTROL, 'z')
    await page.chord(page.keys.CONTROL, 'z')
    // With it its render ends.
    await page.until('nothing is rendered', async () => (await state()) === 'ready')
    await page.until('there is one', async () => {
      await page.saved()
      return (await storedProject(page, id)).turns.length === 1
    })
  })
})
