import { parentPort } from 'node:worker_threads'
import { UnreadableFileError } from '@/core/errors'
import { openTrack } from '@/data/film-reader'

/** The thread of {@link openApart}, a program of its own: it opens what it is given, and is read again after each that was given up. */
const port = parentPort
port?.postMessage('ready')
port?.on('message', ({ bytes, name }: { readonly bytes: Uint8Array; readonly name: string }) => {
  openTrack(new Blob([new Uint8Array(bytes)]), name).then(
    (track) => {
      track.input.dispose()
      port.postMessage({ refused: null, problem: null })
    },
    (error: unknown) =>
      port.postMessage(
        error instanceof UnreadableFileError
          ? { refused: error.reason, problem: null }
          : { refused: null, problem: error instanceof Error ? error.stack : String(error) },
      ),
  )
})
