import { writeFileSync } from 'node:fs'
import { ensureInstalled } from './ensure-installed.mjs'
ensureInstalled()
const { ensureBrowser, openBrowser } = await import('./browser.mjs')
const { ensureBuilt, ensureDemo, serve } = await import('./start.mjs')
const { By, Key, until } = await import('selenium-webdriver')
ensureBrowser()
ensureBuilt()
await ensureDemo()
const { server, address } = await serve(3189)
const { driver } = await openBrowser()
const pause = (ms) => new Promise((r) => setTimeout(r, ms))
const at = (css) => driver.wait(until.elementLocated(By.css(css)), 30_000)
const click = async (css) => (await at(css)).click()
const text = async (t) => (await driver.findElement(By.xpath(`//button[normalize-space()="${t}"]`))).click()
const shoot = async (name) =>
  writeFileSync(`/tmp/look-${name}.png`, Buffer.from(await driver.takeScreenshot(), 'base64'))
const go = (step) => driver.get(`${address}/project/low-water/${step}`)
try {
  const { run } = await import(process.argv[2])
  await run({ driver, By, Key, at, click, text, shoot, go, pause, address })
} catch (e) {
  console.log('ERR', e.message)
  await shoot('failed')
} finally {
  await driver.quit()
  server.kill?.()
  process.exit(0)
}
