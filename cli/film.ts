import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { createWriteStream } from 'node:fs'
import { open, readFile, rename, rm } from 'node:fs/promises'
import { createRequire } from 'node:module'
import path from 'node:path'
import encodeWebp, { init as initWebp } from '@jsquash/webp/encode.js'
import { UnreadableFileError } from '@/core/errors'
import { apngWriter } from '@/core/film/apng-writer'
import type { FilmShape, FilmWriter } from '@/core/film/film-size'
import { FilmPalette, gifWriter } from '@/core/film/gif-writer'
import { webpWriter } from '@/core/film/webp-writer'
import { extension } from '@/core/formats/file-bundle'
import { readPng } from '@/core/formats/png'
import { frameFile, type TurnManifest } from './turn-manifest'

/** Files that frames can be joined to, by how they end. */
export const FILM_ENDINGS = ['gif', 'apng', 'webp', 'mp4', 'webm'] as const
export type FilmEnding = (typeof FILM_ENDINGS)[number]
export const filmEnding = (file: string): FilmEnding | null =>
  FILM_ENDINGS.find((ending) => ending === extension(file)) ?? null

/** What makes films of frames that this program cannot: the host's own, where it is. */
const ENCODER = 'ffmpeg'
/** How each is told to do it. Rates of bits by figure: what is seen of a turning form is nearly without loss. */
const ENCODED: Readonly<Record<'mp4' | 'webm', readonly string[]>> = {
  mp4: ['-c:v', 'libx264', '-crf', '16', '-pix_fmt', 'yuv420p', '-movflags', '+faststart'],
  webm: ['-c:v', 'libvpx-vp9', '-crf', '20', '-b:v', '0', '-pix_fmt', 'yuva420p'],
}

/** A film of frames that lie in folders. @param from, to which of them; the last is left out. */
export interface FilmOrder extends Pick<TurnManifest, 'width' | 'height' | 'rate' | 'frames'> {
  readonly folderOf: (frame: number) => string
  readonly from: number
  readonly to: number
  readonly plays: number
}

/**
 * Joins frames to a film, one after the other: never more than one of them is held. The file is there as a whole or not at all.
 * @throws {UnreadableFileError} naming the frame or the file.
 */
export async function writeFilm(order: FilmOrder, out: string, ending: FilmEnding): Promise<void> {
  const partial = `${out}.${process.pid}.partial`
  try {
    if (ending === 'mp4' || ending === 'webm') await encode(order, partial, ending)
    else if (ending === 'webp') await writeWebp(order, partial)
    else await write(order, partial, ending)
    await rename(partial, out)
  } catch (error) {
    await rm(partial, { force: true })
    throw error
  }
}

async function* framesOf({
  folderOf,
  from,
  to,
  frames,
  width,
  height,
}: FilmOrder): AsyncGenerator<Uint8Array> {
  for (let frame = from; frame < to; frame++) {
    const file = path.join(folderOf(frame), frameFile(frame, frames))
    const bytes = await readFile(file).catch((cause: unknown) => {
      throw new UnreadableFileError(file, 'cannot be read', { cause })
    })
    const picture = readPng(new Uint8Array(bytes), file)
    if (picture.width !== width || picture.height !== height)
      throw new UnreadableFileError(
        file,
        `measures ${picture.width} × ${picture.height}, not ${width} × ${height}`,
      )
    const rgba = new Uint8Array(picture.pixels.length)
    for (let i = 0; i < rgba.length; i++) rgba[i] = Math.round(255 * picture.pixels[i])
    yield rgba
  }
}

async function write(order: FilmOrder, file: string, ending: 'gif' | 'apng'): Promise<void> {
  const { width, height, rate, plays, from, to } = order
  const shape: FilmShape = { width, height, rate, plays, frames: to - from }
  let writer: FilmWriter
  if (ending === 'apng') writer = apngWriter(shape)
  else {
    // Its colours are chosen from all of it first.
    const palette = new FilmPalette(shape.frames)
    let isClear = false
    for await (const rgba of framesOf(order)) {
      palette.look(rgba)
      for (let i = 3; i < rgba.length && !isClear; i += 4) isClear = rgba[i] < 128
    }
    writer = gifWriter(shape, palette.colours(), isClear, 1)
  }
  const stream = createWriteStream(file)
  const failed = once(stream, 'error').then(([cause]: unknown[]) => {
    throw new UnreadableFileError(file, 'could not be written', { cause })
  })
  // Told when it is asked for, not before.
  failed.catch(() => undefined)
  const put = async (bytes: Uint8Array): Promise<void> => {
    if (!stream.write(bytes)) await Promise.race([once(stream, 'drain'), failed])
  }
  for await (const rgba of framesOf(order)) await put(writer.frame(rgba))
  await put(writer.end())
  stream.end()
  await Promise.race([once(stream, 'finish'), failed])
}

/** How good the pictures of a WebP are, 0…100. */
const WEBP_QUALITY = 88

async function writeWebp(order: FilmOrder, file: string): Promise<void> {
  const { width, height, rate, plays, from, to } = order
  const encoder = createRequire(import.meta.url).resolve('@jsquash/webp/codec/enc/webp_enc_simd.wasm')
  await initWebp(await WebAssembly.compile(await readFile(encoder)))
  let isClear = false
  for await (const rgba of framesOf(order)) {
    for (let i = 3; i < rgba.length && !isClear; i += 4) isClear = rgba[i] < 255
    if (isClear) break
  }
  const writer = webpWriter({ width, height, rate, plays, frames: to - from }, isClear)
  const handle = await open(file, 'w')
  try {
    let at = 0
    const put = async (bytes: Uint8Array, place: number): Promise<void> => {
      await handle.write(bytes, 0, bytes.length, place)
      at = Math.max(at, place + bytes.length)
    }
    await put(writer.head(), 0)
    for await (const rgba of framesOf(order)) {
      const data = new Uint8ClampedArray(rgba)
      const picture = await encodeWebp({ data, width, height, colorSpace: 'srgb' } as ImageData, {
        quality: WEBP_QUALITY,
      })
      await put(writer.frame(new Uint8Array(picture)), at)
    }
    // Its length is known now.
    await put(writer.head(), 0)
  } finally {
    await handle.close()
  }
}

async function encode(order: FilmOrder, file: string, ending: 'mp4' | 'webm'): Promise<void> {
  const { width, height, rate } = order
  const input = [
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgba',
    '-s',
    `${width}x${height}`,
    '-r',
    String(rate),
    '-i',
    '-',
  ]
  // Colours are told in pairs of pixels: an odd size loses its last row or column.
  const even = width % 2 === 0 && height % 2 === 0 ? [] : ['-vf', 'crop=trunc(iw/2)*2:trunc(ih/2)*2']
  const child = spawn(
    ENCODER,
    ['-v', 'error', '-y', ...input, ...even, ...ENCODED[ending], '-f', ending, file],
    { stdio: ['pipe', 'ignore', 'pipe'] },
  )
  let words = ''
  child.stderr.on('data', (bytes: Buffer) => (words += bytes.toString()))
  const ended = new Promise<void>((resolve, reject) => {
    child.on('error', (cause) =>
      reject(
        new UnreadableFileError(
          file,
          `a .${ending} file is written by ${ENCODER}, which is not installed here; .gif, .apng and numbered pictures need nothing`,
          { cause },
        ),
      ),
    )
    child.on('close', (code) => {
      if (code === 0) resolve()
      else
        reject(
          new UnreadableFileError(file, `could not be written: ${words.trim().split('\n').at(-1) ?? ''}`),
        )
    })
  })
  // A program that ends early closes its input: what it says of that is told.
  child.stdin.on('error', () => undefined)
  ended.catch(() => undefined)
  try {
    for await (const rgba of framesOf(order)) {
      if (child.exitCode !== null || child.stdin.destroyed) break
      if (!child.stdin.write(rgba)) await Promise.race([once(child.stdin, 'drain'), ended])
    }
  } catch (error) {
    child.kill()
    await ended.catch(() => undefined)
    throw error
  }
  child.stdin.end()
  await ended
}
