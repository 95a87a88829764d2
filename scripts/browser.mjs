// A headless Chromium of Debian's packages, for tests and screenshots.
import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { Builder } from 'selenium-webdriver'
import chrome from 'selenium-webdriver/chrome.js'

const CHROMIUM = '/usr/bin/chromium'
const DRIVER = '/usr/bin/chromedriver'

/** Installs the browser and its driver by apt where they are absent. */
export function ensureBrowser() {
  if (existsSync(CHROMIUM) && existsSync(DRIVER)) return
  console.log('Installing chromium and chromium-driver …')
  for (const args of [
    ['update', '-qq'],
    ['install', '-y', '-qq', 'chromium', 'chromium-driver'],
  ]) {
    const result = spawnSync('apt-get', args, {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    })
    if (result.status !== 0)
      throw new Error(`apt-get ${args[0]} did not succeed; install chromium and chromium-driver by hand`)
  }
}

/** @returns a driver whose inner window has the asked size, and the folder its downloads go to. */
export async function openBrowser({ width = 1280, height = 800 } = {}) {
  const downloads = mkdtempSync(path.join(tmpdir(), 'relief-downloads-'))
  const profile = mkdtempSync(path.join(tmpdir(), 'relief-profile-'))
  const options = new chrome.Options()
  options.setChromeBinaryPath(CHROMIUM)
  options.addArguments(
    '--headless',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--hide-scrollbars',
    '--force-device-scale-factor=1',
    '--enable-unsafe-swiftshader',
    `--user-data-dir=${profile}`,
    `--window-size=${width},${height}`,
  )
  options.setUserPreferences({
    'download.default_directory': downloads,
    'download.prompt_for_download': false,
  })
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder(DRIVER))
    .build()
  await driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width,
    height,
    deviceScaleFactor: 1,
    mobile: false,
  })
  return { driver, downloads }
}
