import { strToU8, unzipSync, zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import type { PassResult } from '../passes/pass-result'
import { passKind } from '../passes/registry'
import { allocateChannel } from '../picture/channel'
import { readPassBundle, writePassBundle } from './pass-bundle'
import { ARCHIVE_ZIP, bytesSource, ZipFile } from './zip-file'

const surface = { part: 'm/0', material: 'm/a', partName: 'Mast', materialName: 'Paint', groups: ['g'] }

function depthPass(): PassResult {
  const channels = passKind('depth')
    .channels([], {})
    .map(({ format }, c) => allocateChannel(format, 35).map((_, i) => (i * 7 + c) % 200))
  return {
    kind: 'depth',
    width: 7,
    height: 5,
    channels,
    surfaces: [{ ...surface, opacity: 1, baseColour: [0.5, 0.25, 1] }],
    lights: [],
    params: {},
    facts: { near: 2, far: 9 },
    drawing: null,
  }
}
const COST = { rays: 1234, seconds: 0.5, samples: 16 }

const read = async (bytes: Uint8Array) =>
  readPassBundle(await ZipFile.open(bytesSource(bytes), 'mast.zip', ARCHIVE_ZIP), 'mast.zip')

describe('a pass as one file', () => {
  it('comes back with all that is told of it, and is always the same bytes', async () => {
    const pass = depthPass()
    const bytes = writePassBundle(pass, COST)
    expect(await read(bytes)).toEqual({ result: pass, cost: COST })
    expect(writePassBundle(depthPass(), COST)).toEqual(bytes)
    // By another reader of zips, under the names that are documented.
    expect(Object.keys(unzipSync(bytes)).sort()).toEqual(['channels.exr', 'pass.json'])
  })
  it('says what is wrong with one, and where', async () => {
    const files = unzipSync(writePassBundle(depthPass(), COST))
    const without = (patch: Record<string, Uint8Array | undefined>) =>
      read(
        zipSync(
          Object.fromEntries(
            Object.entries({ ...files, ...patch }).filter(
              (entry): entry is [string, Uint8Array] => entry[1] !== undefined,
            ),
          ),
        ),
      )
    await expect(without({ 'pass.json': undefined })).rejects.toThrow(/mast\.zip: holds no pass\.json/)
    await expect(without({ 'channels.exr': undefined })).rejects.toThrow(/mast\.zip: holds no channels\.exr/)
    await expect(without({ 'pass.json': strToU8('{') })).rejects.toThrow(/mast\.zip, pass\.json: cannot/)
    const told = JSON.parse(new TextDecoder().decode(files['pass.json'])) as object
    const patched = (patch: object) => ({ 'pass.json': strToU8(JSON.stringify({ ...told, ...patch })) })
    await expect(without(patched({ kind: 'fog' }))).rejects.toThrow(/pass\.json: kind/)
    await expect(without(patched({ width: 8 }))).rejects.toThrow(/channels\.exr/)
    await expect(without(patched({ width: 1e9 }))).rejects.toThrow(/pass\.json: width/)
    await expect(without(patched({ rays: -1 }))).rejects.toThrow(/pass\.json: rays/)
  })
})
