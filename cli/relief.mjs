#!/usr/bin/env node
// Starts the headless command: installs and bundles what is missing, then runs it. Plain Node before that.
import { bundleCommand } from '../scripts/bundle.mjs'
import { ensureInstalled } from '../scripts/ensure-installed.mjs'

ensureInstalled({ quiet: true })
const { commandUrl } = await bundleCommand()
const { main } = await import(commandUrl)
process.exitCode = await main(process.argv.slice(2))
