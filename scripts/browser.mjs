// A headless Chromium of Debian's packages, for tests and screenshots.
import { spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { Builder } from 'selenium-webdriver'
import chrome from 'selenium-webdriver/chrome.js'

const CHROMIUM = '/usr/bin/chromium'
const DRIVER = '/usr/bin/chromedriver'

/** Installs those of Debian's packages by apt of which a program is absent. */
function ensurePackages(programs) {
  const absent = Object.entries(programs).flatMap(([file, name]) => (existsSync(file) ? [] : [name]))
  if (absent.length === 0) return
  console.log(`Installing ${absent.join(', ')} …`)
  for (const args of [
    ['update', '-qq'],
    ['install', '-y', '-qq', ...absent],
  ]) {
    const result = spawnSync('apt-get', args, {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    })
    if (result.status !== 0)
      throw new Error(`apt-get ${args[0]} did not succeed; install ${absent.join(', ')} by hand`)
  }
}

/** The browser and its driver. */
export const ensureBrowser = () => ensurePackages({ [CHROMIUM]: 'chromium', [DRIVER]: 'chromium-driver' })

/** Another reader of PDFs, which tests open ours with. */
export const ensurePdfReader = () => ensurePackages({ '/usr/bin/pdftotext': 'poppler-utils' })

/** What several machines share their work by, see docs/FARM.md. */
export const ensureQueueServer = () => ensurePackages({ '/usr/bin/redis-server': 'redis-server' })

/**
 * @param profile the folder of the browser's own data; a new one where left out.
 * @returns a driver whose inner window has the asked size, and the folders of its downloads and of its own data.
 */
export async function openBrowser({ width = 1280, height = 800, profile = newProfile() } = {}) {
  const downloads = mkdtempSync(path.join(tmpdir(), 'relief-downloads-'))
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
  return { driver, downloads, profile }
}

export const newProfile = () => mkdtempSync(path.join(tmpdir(), 'relief-profile-'))
