'use client'

import { useEffect, useMemo } from 'react'

/** A picture kept as PNG; words where there is none. */
export function Thumbnail({ bytes }: { bytes: Uint8Array<ArrayBuffer> | null }) {
  const url = useMemo(
    () => (bytes ? URL.createObjectURL(new Blob([bytes], { type: 'image/png' })) : null),
    [bytes],
  )
  useEffect(
    () => () => {
      if (url) URL.revokeObjectURL(url)
    },
    [url],
  )
  return url ? <img src={url} alt="" /> : <span className="no-picture">No picture yet</span>
}
