import { createPortal } from 'react-dom'
import { pageStyles } from '@/ui/page-styles'

const ComposingStyles = pageStyles({
  '.composing': {
    position: 'absolute',
    right: 12,
    top: 10,
    margin: 0,
    padding: '3px 10px',
    borderRadius: 12,
    border: '1px solid var(--rule)',
    background: 'var(--paper)',
    color: 'var(--ink)',
    fontSize: 12,
    fontVariantNumeric: 'tabular-nums',
    pointerEvents: 'none',
  },
})

interface ComposingProps {
  /** What the picture stands in: it is told in the corner of its stage, wherever that is looked at. */
  readonly host: HTMLElement
  /** How much of it is there, 0…1; null while that is not known. */
  readonly share01: number | null
}

/** That a picture takes a while, and how far it is. */
export function Composing({ host, share01 }: ComposingProps) {
  const percent = share01 === null ? undefined : Math.round(100 * share01)
  return createPortal(
    <>
      <ComposingStyles />
      <p
        className="composing"
        role="progressbar"
        aria-label="Composing the picture"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={percent}
      >
        Composing{percent === undefined ? '' : ` ${percent} %`}
      </p>
    </>,
    host.closest('.stage') ?? host,
  )
}
