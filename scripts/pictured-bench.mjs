// The built application with the demo, driven to where pictures of it are taken.
import { ensureInstalled } from './ensure-installed.mjs'

/** For so long nothing may change before a picture is taken, and for so long it is waited for. Milliseconds. */
const RESTED = 4000
const LONGEST = 60_000
export const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms))

/** @returns the driver and what is done with it: `at` waits for an element, `go` opens a step of Low Water, `rested` waits for a still view. */
export async function openPicturedBench() {
  ensureInstalled()
  const { ensureBrowser, openBrowser } = await import('./browser.mjs')
  const { ensureBuilt, ensureDemo, serve } = await import('./start.mjs')
  const { By, Key, until } = await import('selenium-webdriver')
  ensureBrowser()
  ensureBuilt()
  await ensureDemo()
  const { server, address } = await serve(3100)
  const { driver } = await openBrowser()
  const at = (css) => driver.wait(until.elementLocated(By.css(css)), 30_000)
  const go = (step, project = 'low-water') => driver.get(`${address}/project/${project}/${step}`)
  const press = async (css) => (await at(css)).click()
  const pressText = async (text, tag = 'button') =>
    (await driver.findElement(By.xpath(`//${tag}[text()="${text}"]`))).click()
  const chord = (modifier, key) => driver.actions().keyDown(modifier).sendKeys(key).keyUp(modifier).perform()
  /** A picture of the window once it has come to rest: on a busy machine it is empty for longer than any pause that is fixed. */
  const rested = async (isMoving = false) => {
    const started = Date.now()
    const isComposing = () =>
      driver.executeScript(
        "return document.querySelector('.composing, [data-testid=proof][aria-busy]') !== null",
      )
    while (Date.now() - started < LONGEST && (await isComposing())) await pause(200)
    let picture = await driver.takeScreenshot()
    for (let since = started; !isMoving && Date.now() - since < RESTED && Date.now() - started < LONGEST;) {
      await pause(500)
      const now = await driver.takeScreenshot()
      if (now !== picture) since = Date.now()
      picture = now
    }
    return picture
  }
  /** Ends it, and tells what the browser complained of. */
  const close = async () => {
    const logs = await driver
      .manage()
      .logs()
      .get('browser')
      .catch(() => [])
    for (const log of logs) if (log.level.name === 'SEVERE') console.log(log.message)
    await driver.quit()
    server.kill()
  }
  return { driver, address, at, go, press, pressText, chord, rested, close, By, Key, until }
}
