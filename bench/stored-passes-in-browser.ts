import { createServer } from 'node:http'
import { cpus } from 'node:os'
import path from 'node:path'
import { build } from 'esbuild'
import type { WebDriver } from 'selenium-webdriver'

const PORT = 3440
const ROUNDS = 5

/** Passes in the browser's storage, as tiles named by their content and beside it in one piece: stored, read, copied. */
export async function main(): Promise<void> {
  const root = process.cwd()
  const { outputFiles } = await build({
    entryPoints: [path.join(root, 'bench/reference/stored-passes-page.ts')],
    bundle: true,
    write: false,
    format: 'iife',
    target: 'es2022',
    logLevel: 'error',
    alias: { '@': path.join(root, 'src') },
  })
  const server = createServer((request, response) => {
    const isScript = request.url === '/page.js'
    response.setHeader('content-type', isScript ? 'text/javascript' : 'text/html')
    response.end(isScript ? outputFiles[0].text : '<!doctype html><script src="/page.js"></script>')
  }).listen(PORT)
  const { openBrowser } = (await import(path.join(root, 'scripts/browser.mjs'))) as {
    openBrowser: () => Promise<{ driver: WebDriver }>
  }
  const { driver } = await openBrowser()
  try {
    const version = (await driver.getCapabilities()).get('browserVersion') as string
    console.log(`machine: ${cpus()[0].model}, ${cpus().length} cores, Chromium ${version}`)
    await driver.manage().setTimeouts({ script: 600_000 })
    await driver.get(`http://localhost:${PORT}/`)
    const lines = await driver.executeAsyncScript<string[]>(
      `const [rounds, done] = arguments
       storedPasses(rounds).then(done, (error) => done(['failed: ' + error]))`,
      ROUNDS,
    )
    for (const line of lines) console.log(line)
  } finally {
    await driver.quit()
    server.close()
  }
}
