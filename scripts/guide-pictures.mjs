// The pictures of the guide's pages of purposes, made of the demo: `node scripts/guide-pictures.mjs [NAME …]`. What is seen of the
// application is cut from its window; parts and frames are rendered by the headless command.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { ensureInstalled, root } from './ensure-installed.mjs'
import { openPicturedBench, pause } from './pictured-bench.mjs'

ensureInstalled()
const { default: sharp } = await import('sharp')
const folder = path.join(root, 'docs', 'purposes')
const only = process.argv.slice(2)
const isWanted = (name) => only.length === 0 || only.includes(name)
/** JPEG quality, and how wide a picture of the guide is at the most, pixels. */
const QUALITY = 84
const WIDTH = 820

const write = async (name, picture) => {
  await picture.jpeg({ quality: QUALITY, mozjpeg: true }).toFile(path.join(folder, `${name}.jpg`))
  console.log(name)
}

/** Pictures beside each other in rows, on a ground. */
async function together(pictures, columns, { width, height, gap = 8, ground = '#f3efe7', fit = 'cover' }) {
  const rows = Math.ceil(pictures.length / columns)
  const composite = await Promise.all(
    pictures.map(async (own, i) => ({
      input: await sharp(own).resize(width, height, { fit, background: ground }).png().toBuffer(),
      left: (i % columns) * (width + gap),
      top: Math.floor(i / columns) * (height + gap),
    })),
  )
  return sharp({
    create: {
      width: columns * (width + gap) - gap,
      height: rows * (height + gap) - gap,
      channels: 3,
      background: ground,
    },
  }).composite(composite)
}

function relief(...args) {
  const { status, stderr } = spawnSync(process.execPath, [path.join(root, 'cli', 'relief.mjs'), ...args], {
    encoding: 'utf8',
  })
  if (status !== 0) throw new Error(stderr)
}

/** Parts on their own, as files for a game have them. */
async function parts() {
  const out = mkdtempSync(path.join(tmpdir(), 'relief-guide-'))
  const called = 'Gull*, Boat*, Bollard*, Crate*, Door leaf, Gauge*, Rope*, Lantern*'
  relief(
    'separate',
    path.join(root, 'demo/low-water.zip'),
    '--parts',
    called,
    '--out',
    out,
    '--trim',
    '--whole',
  )
  const files = readdirSync(out).filter((file) => file.endsWith('.png'))
  const large = await Promise.all(
    files.map(async (file) => ({
      file,
      area: Object.values(await sizeOf(path.join(out, file))).reduce((a, b) => a * b),
    })),
  )
  const best = large.sort((a, b) => b.area - a.area).slice(0, 10)
  await write(
    'parts-apart',
    await together(
      best.map(({ file }) => path.join(out, file)),
      5,
      { width: 154, height: 130, ground: '#8d8b86', fit: 'contain' },
    ),
  )
  rmSync(out, { recursive: true })
}
const sizeOf = async (file) => {
  const { width, height } = await sharp(file).metadata()
  return { width, height }
}

/** Frames of the demo's turntable on their way. */
async function frames() {
  const out = mkdtempSync(path.join(tmpdir(), 'relief-guide-'))
  const pictures = []
  for (const at of [1, 56, 66, 116]) {
    const into = path.join(out, String(at))
    relief('turn', path.join(root, 'demo/brass-gauge.zip'), '--frames', `${at}-${at}`, '--out', into)
    pictures.push(
      path.join(
        into,
        readdirSync(into).find((file) => file.endsWith('.png')),
      ),
    )
  }
  await write('turntable-frames', await together(pictures, 2, { width: 404, height: 253 }))
  rmSync(out, { recursive: true })
}

const bench = await openPicturedBench()
const { driver, at, go, press, pressText, chord, rested, close, Key } = bench
/** Cuts the step from the window, without what a first visit is told. */
const cut = async (name) => {
  for (const hint of await driver.findElements(bench.By.css('[data-testid=hint-read]'))) await hint.click()
  const { left, top, width, height } = { left: 84, top: 48, width: 1196, height: 752 }
  const picture = sharp(Buffer.from(await rested(), 'base64')).extract({ left, top, width, height })
  await write(name, picture.resize(Math.min(WIDTH, width), null))
}
const card = (name) => press(`[data-testid="card-${name}"]`)
/** Waits until pictures stand in all canvases of a sort: there is something in each. */
const drawn = async (css) => {
  await at(css)
  await driver.wait(
    () =>
      driver.executeScript(
        `return [...document.querySelectorAll(arguments[0])].every((canvas) => {
           const small = Object.assign(document.createElement('canvas'), { width: 8, height: 8 }).getContext('2d')
           small.drawImage(canvas, 0, 0, 8, 8)
           return small.getImageData(0, 0, 8, 8).data.some((v, i) => i % 4 === 3 && v > 0)
         })`,
        css,
      ),
    120_000,
  )
  await pause(3000)
}
const proof = () => drawn('canvas[aria-label=Proof]')
const blur = () => driver.executeScript('document.activeElement.blur()')
const sheetOf = async (value) => {
  await driver.actions().sendKeys('s').perform()
  await press(`#sheet-at-work option[value=${value}]`)
  await proof()
  await blur()
}

/** Each by the name of its file, in the order of the pages. */
const PICTURES = {
  'illustration-models': async (name) => {
    await go('models')
    await at('.part-row')
    await pressText('Roof seams', 'span')
    await at('.findings')
    await cut(name)
  },
  'illustration-light': async (name) => {
    await go('shot')
    await driver.wait(
      async () => (await driver.findElements(bench.By.css('[data-live=done]'))).length > 0,
      120_000,
    )
    await pressText('Light')
    await cut(name)
  },
  'illustration-passes': async (name) => {
    await go('passes')
    await drawn('.contact-cell canvas')
    await cut(name)
  },
  'illustration-making': async (name) => {
    await go('sheet')
    await proof()
    const box = await (await at('canvas[aria-label=Proof]')).getRect()
    const region = {
      left: Math.round(box.x),
      top: Math.round(box.y),
      width: Math.floor(box.width),
      height: Math.floor(box.height),
    }
    const pictures = []
    await chord(Key.SHIFT, 'n')
    for (let stop = 1; stop <= 15; stop++) {
      if ([2, 3, 4, 9, 10, 15].includes(stop)) {
        await driver.executeScript(
          `for (const own of document.querySelectorAll('svg, .fill-handle, [data-testid=fill-handles]')) own.style.visibility = 'hidden'`,
        )
        await pause(1500)
        const again = await (await at('canvas[aria-label=Proof]')).getRect()
        const seen = {
          ...region,
          left: Math.round(again.x),
          top: Math.round(again.y),
          width: Math.floor(again.width),
          height: Math.floor(again.height),
        }
        pictures.push(
          await sharp(Buffer.from(await rested(), 'base64'))
            .extract(seen)
            .png()
            .toBuffer(),
        )
      }
      await driver.actions().sendKeys(Key.PAGE_DOWN).perform()
      await pause(500)
    }
    await write(name, await together(pictures, 3, { width: 268, height: 168 }))
  },
  'illustration-mask': async (name) => {
    await go('sheet')
    await proof()
    await card('Cavity')
    await blur()
    await driver.actions().sendKeys('t').perform()
    await pause(6000)
    await cut(name)
  },
  'overpaint-passes': async (name) => {
    await go('sheet')
    await proof()
    await sheetOf('overpaint')
    await driver.actions().sendKeys(',').perform()
    await chord(Key.SHIFT, 'b')
    await pause(1500)
    await cut(name)
    await driver.actions().sendKeys(Key.ESCAPE).perform()
  },
  'overpaint-shadow': async (name) => {
    await go('sheet')
    await proof()
    await sheetOf('overpaint')
    const shadow = await at('[data-testid="card-Shadow of the kiosk"]')
    await driver.executeScript('arguments[0].scrollIntoView({ inline: "center" })', shadow)
    await pause(600)
    await shadow.click()
    await cut(name)
    await sheetOf('sheet')
  },
  'poster-type': async (name) => {
    await go('poster')
    await at('.depth-rail .part')
    await pause(6000)
    for (const row of await driver.findElements(bench.By.css('.page-list .row-name')))
      if ((await row.getText()) === 'TIDE') {
        await row.click()
        break
      }
    await cut(name)
  },
  'poster-mockup': async (name) => {
    await go('poster')
    await press('.series .format.mockup')
    await at('[data-testid=look-around]')
    await pause(60_000)
    await cut(name)
  },
  'turntable-lanes': async (name) => {
    await go('turntable', 'brass-gauge')
    await at('[data-testid=playhead]')
    await pause(3000)
    await cut(name)
  },
  'turntable-frames': frames,
  'parts-export': async (name) => {
    await go('sheet')
    await proof()
    await go('export')
    await drawn('canvas')
    const field = await at('[data-testid=separate-pattern]')
    await field.sendKeys('Gull*, Boat*, Rope*')
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', field)
    await cut(name)
  },
  'parts-apart': parts,
  'mesh-passes': async (name) => {
    await go('passes', 'brass-gauge')
    await drawn('.contact-cell canvas')
    await cut(name)
  },
  'mesh-wire': async (name) => {
    await go('sheet', 'brass-gauge')
    await proof()
    await card('Wireframe')
    await cut(name)
  },
}
try {
  await driver.get(bench.address)
  await driver.wait(
    async () => (await driver.findElements(bench.By.css('.project-card img'))).length >= 2,
    120_000,
  )
  for (const [name, make] of Object.entries(PICTURES)) if (isWanted(name)) await make(name)
} finally {
  await close()
}
