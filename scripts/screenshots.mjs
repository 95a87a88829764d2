// Takes a picture of each main view from the demo data: `npm run screenshots [-- FOLDER]`.
import { mkdirSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { root } from './ensure-installed.mjs'
import { openPicturedBench, pause } from './pictured-bench.mjs'

const { driver, address, at, go, rested, close, By, Key, until } = await openPicturedBench()
const folder = path.resolve(process.argv[2] ?? path.join(root, 'docs', 'screenshots'))
mkdirSync(folder, { recursive: true })
const LIT_APART = ['Quay stone', 'Dressed stone', 'Sea stone']
const shoot = async (name, isMoving = false) => {
  writeFileSync(path.join(folder, `${name}.png`), Buffer.from(await rested(isMoving), 'base64'))
  console.log(name)
}
const y0 = (rows) => rows[1] - 0.03
try {
  await driver.get(address)
  await at('.project-card')
  // Both projects of the demo, with their pictures.
  await pause(14_000)
  await shoot('projects')
  await go('sheet')
  await at('.card')
  await pause(9000)
  await (await at('[data-testid="card-Occlusion, warm"]')).click()
  await pause(600)
  await shoot('sheet')
  await (await driver.findElement(By.xpath('//button[text()="Night"]'))).click()
  await pause(900)
  await shoot('sheet-night')
  await (await driver.findElement(By.xpath('//button[text()="Day"]'))).click()
  await (await at('[data-testid="card-Contour"]')).click()
  await (await at('[data-testid=line-thicken]')).click()
  const box = await (await at('[data-testid=line-brush]')).getRect()
  const spot = { x: Math.round(box.x + 0.3 * box.width), y: Math.round(box.y + 0.62 * box.height) }
  await driver
    .actions()
    .move(spot)
    .press()
    .move({ x: spot.x + 60, y: spot.y + 90, duration: 200 })
    .perform()
  await pause(900)
  await shoot('lines')
  await driver.actions().release().sendKeys(Key.ESCAPE).perform()
  // Chalk takes the clay away where the evening sun falls on the quay.
  await (await at('[data-testid="card-Clay"]')).click()
  await driver.actions().keyDown(Key.SHIFT).sendKeys('b').keyUp(Key.SHIFT).perform()
  await (await at('[data-testid=paint-reveal]')).click()
  await pause(2500)
  const sheet = await (await at('[data-testid=paint-overlay]')).getRect()
  const on = (x, y, duration = 120) => ({
    x: Math.round(sheet.x + x * sheet.width),
    y: Math.round(sheet.y + y * sheet.height),
    duration,
  })
  const rows = [0.79, 0.83, 0.88]
  let chalk = driver.actions({ async: true })
  for (const y of rows)
    chalk = chalk
      .move(on(0.47, y, 0))
      .press()
      .move(on(0.6, y - 0.01))
      .move(on(0.75, y - 0.05))
      .move(on(0.88, y - 0.09))
      .release()
  await chalk.move(on(0.7, y0(rows))).perform()
  await pause(2500)
  await shoot('painting')
  await driver.actions().sendKeys(Key.ESCAPE).perform()
  for (const _ of [...rows, 0]) {
    await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform()
    await pause(700)
  }
  await (await at('[data-testid="card-Flat colour"]')).click()
  await (await driver.findElement(By.xpath('//button[text()="Compare"]'))).click()
  // Notes of what was taken back are gone by then.
  await pause(8000)
  await shoot('compare')
  await go('sheet')
  await at('.card')
  await pause(4000)
  await driver.actions().sendKeys('r').perform()
  await (await at('[data-testid=recipe-etched-plate]')).click()
  await pause(2500)
  await shoot('recipe')
  await go('sheet')
  await at('.card')
  await pause(3000)
  await driver.actions().sendKeys('s').perform()
  await (await at('#sheet-at-work option[value=overpaint]')).click()
  await pause(7000)
  await driver.executeScript('document.activeElement.blur()')
  const shadow = await at('[data-testid="card-Shadow of the kiosk"]')
  await driver.executeScript('arguments[0].scrollIntoView({ inline: "center" })', shadow)
  await pause(600)
  await shadow.click()
  await pause(2500)
  await shoot('overpaint')
  await driver.actions().sendKeys('s').perform()
  await (await at('#sheet-at-work option[value=storm]')).click()
  await pause(9000)
  // Keys sleep while a list has the focus.
  await driver.executeScript('document.activeElement.blur()')
  await driver.actions().keyDown(Key.SHIFT).sendKeys('i').keyUp(Key.SHIFT).perform()
  await pause(2500)
  await shoot('storm-print')
  await driver.actions().keyDown(Key.SHIFT).sendKeys('i').keyUp(Key.SHIFT).perform()
  await (await at('#sheet-at-work option[value=sheet]')).click()
  await pause(1500)
  await go('models')
  await at('.part-row')
  await (await driver.findElement(By.xpath('//span[text()="Roof seams"]'))).click()
  await at('.findings')
  await pause(3000)
  await shoot('models')
  await go('shot')
  await driver.wait(until.elementLocated(By.css('[data-live=done]')), 120_000)
  await shoot('shot')
  await (await driver.findElement(By.xpath('//button[text()="Light"]'))).click()
  await pause(800)
  await shoot('light')
  await go('passes')
  await pause(6000)
  await shoot('passes')
  await go('poster')
  await at('.depth-rail .part')
  await pause(9000)
  for (const row of await driver.findElements(By.css('.page-list .row-name')))
    if ((await row.getText()) === 'TIDE') {
      await row.click()
      break
    }
  await pause(2500)
  await shoot('poster')
  await (await at('.series .format.mockup')).click()
  await at('[data-testid=look-around]')
  await pause(14_000)
  await shoot('mockup')
  await (await at('.series select option[value=stone-and-copper]')).click()
  await (await at('[aria-label="See the plate of Slate alone"]')).click()
  await pause(9000)
  await shoot('plate')
  await go('sheet')
  await at('.card')
  await pause(2500)
  await go('export')
  await pause(12_000)
  await shoot('export')
  await (await at('[data-testid=open-batch]')).click()
  await (await at('[data-testid=batch-purpose] option[value=print]')).click()
  await shoot('batch')
  await driver.actions().sendKeys(Key.ESCAPE).perform()

  // A turntable while its frames are rendered, its wire on the way.
  await driver.get(`${address}/project/brass-gauge/turntable`)
  await (await at('[data-testid=turn-quality] option[value=draft]')).click()
  await (await at('[data-testid=render-turn]')).click()
  await driver.wait(async () => {
    const told = await (await at('[data-testid=frames-there]')).getText()
    return Number(told.split(' ')[0]) >= 44
  }, 300_000)
  await (await driver.findElement(By.xpath('//button[.//b[text()="Wireframe"]]'))).click()
  await driver.executeScript('document.querySelector("[data-testid=playhead]").focus()')
  await driver.actions().sendKeys(Key.HOME).perform()
  for (let i = 0; i < 7; i++)
    await driver.actions().keyDown(Key.SHIFT).sendKeys(Key.ARROW_RIGHT).keyUp(Key.SHIFT).perform()
  await driver.actions().sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT).perform()
  await driver.executeScript('document.activeElement.blur()')
  await pause(1500)
  await shoot('turntable', true)
  await (await at('[data-testid=pause-turn]')).click()

  // The guide's picture of two lightings: the stonework from another rig than all the rest.
  await go('passes')
  await (await at('[data-testid=pass-clay]')).click()
  await (await at('[data-testid=second-lighting]')).click()
  await (await at('[data-testid=one-good]')).click()
  await driver.wait(async () => {
    const cells = await driver.findElements(By.css('.contact-cell[data-state=ready]'))
    return cells.length === (await driver.findElements(By.css('.contact-cell'))).length
  }, 300_000)
  await go('sheet')
  for (const name of LIT_APART) {
    await (await at('[data-testid="card-Clay"]')).click()
    const material = `//select[@data-testid="lighting-take"]/optgroup[@label="Materials"]/option[text()="${name}"]`
    await (await driver.wait(until.elementLocated(By.xpath(material)), 30_000)).click()
    await pause(700)
  }
  await pause(9000)
  const data = await driver.executeScript(
    'return document.querySelector(\'canvas[aria-label="Proof"]\').toDataURL("image/png")',
  )
  writeFileSync(path.join(folder, '..', 'lightings.png'), Buffer.from(data.split(',')[1], 'base64'))
  console.log('lightings')
} finally {
  await close()
}
