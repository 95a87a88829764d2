import { writeFileSync } from 'node:fs'
import { ensureInstalled } from './ensure-installed.mjs'
ensureInstalled()
const { ensureBrowser, openBrowser } = await import('./browser.mjs')
const { ensureBuilt, ensureDemo, serve } = await import('./start.mjs')
export const { By, Key, until } = await import('selenium-webdriver')
ensureBrowser()
ensureBuilt()
await ensureDemo()
const { server, address } = await serve(3189)
const { driver } = await openBrowser()
export const pause = (ms) => new Promise((r) => setTimeout(r, ms))
export const shoot = async (name) => {
  writeFileSync(`/tmp/look-${name}.png`, Buffer.from(await driver.takeScreenshot(), 'base64'))
  console.log(name)
}
export const at = (css, ms = 30000) => driver.wait(until.elementLocated(By.css(css)), ms, css)
export const click = async (css) => {
  const e = await at(css)
  for (let i = 0; i < 20; i++) {
    try {
      await (await at(css)).click()
      return
    } catch (x) {
      await pause(200)
    }
  }
  throw new Error('click ' + css)
}
export const go = (step) => driver.get(`${address}/project/low-water/${step}`)
export const logs = async () => {
  for (const l of await driver.manage().logs().get('browser'))
    if (l.level.value >= 900) console.log(l.message.slice(0, 400))
}
export { driver, address }
export const run = async (f) => {
  try {
    await driver.get(address)
    await at('.project-card')
    await pause(4000)
    await f()
  } catch (e) {
    console.log(e)
    await shoot('failed')
  } finally {
    await logs().catch(() => 0)
    await driver.quit()
    server.kill()
  }
}
