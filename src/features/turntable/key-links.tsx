'use client'

import {
  keysClosed,
  keysCopied,
  keysLooped,
  keysReversed,
  keysStretched,
  withKey,
  withoutKey,
  type LaneKey,
} from '@/core/turn/key-editing'
import { setBench } from '@/state/view-store'
import { EaseRow } from './ease-row'
import { KeyTools } from './key-tools'

interface KeyLinksProps<T> {
  readonly label: string
  readonly keys: readonly LaneKey<T>[]
  /** The value at the playhead. */
  readonly value: T
  readonly frame: number
  /** Where the turntable closes. */
  readonly last: number
  /** @param what was done, as the beginning of what undo says. */
  readonly onChange: (keys: LaneKey<T>[], what: string, merge?: string) => void
}

/** The key at the playhead, the ones before and after it, and how it goes from one to the next. */
export function KeyLinks<T>({ label, keys, value, frame, last, onChange }: KeyLinksProps<T>) {
  const here = keys.find(({ at }) => at === frame)
  const before = keys.filter(({ at }) => at < frame).at(-1)
  const after = keys.find(({ at }) => at > frame)
  const leaving = here ?? before
  const go = (key: LaneKey<T> | undefined) => key && setBench({ turnFrame: key.at })
  return (
    <>
      <div className="key-links">
        <button className="link" disabled={!before} onClick={() => go(before)}>
          ‹ key
        </button>
        {here ? (
          <button className="link" onClick={() => onChange(withoutKey(keys, frame), 'remove a key of')}>
            Remove key
          </button>
        ) : (
          <button className="link" onClick={() => onChange(withKey(keys, frame, value), 'key')}>
            Set key
          </button>
        )}
        <button className="link" disabled={!after || after.at >= last} onClick={() => go(after)}>
          key ›
        </button>
        <KeyTools
          label={label}
          onCopy={() => onChange(keysCopied(keys, frame, last), 'copy keys of')}
          onStretch={(factor) => onChange(keysStretched(keys, factor, last), 'stretch keys of')}
          onReverse={() => onChange(keysReversed(keys), 'reverse keys of')}
          onLoop={() => onChange(keysLooped(keys, last), 'repeat keys of')}
          onClose={() => onChange(keysClosed(keys, last), 'close keys of')}
          onClear={() => onChange([], 'clear keys of')}
        />
      </div>
      {leaving && (
        <EaseRow
          label={here ? 'Leaves it' : 'On the way'}
          ease={leaving.ease}
          onChange={(ease) => onChange(withKey(keys, leaving.at, leaving.value, ease), 'ease of', 'ease')}
        />
      )}
    </>
  )
}
