'use client'

import { storageNoticeTexts, useStorageNotice } from '@/state/storage-notice'
import { StorageBannerStyles } from './storage-banner-styles'

/** Says over everything what keeps this tab from its storage. */
export function StorageBanner() {
  const notice = useStorageNotice((s) => s.notice)
  if (!notice) return null
  return (
    <div className="storage-banner" role="alert" data-testid="storage-banner">
      <StorageBannerStyles />
      {storageNoticeTexts[notice]}{' '}
      <button className="link" onClick={() => location.reload()}>
        Reload
      </button>
    </div>
  )
}
