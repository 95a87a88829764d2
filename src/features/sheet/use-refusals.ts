'use client'

import { useEffect } from 'react'
import { useSnackbar } from 'notistack'
import { setBench, useViewStore } from '@/state/view-store'

/** Says why something was not done, once. */
export function useRefusals(): void {
  const { enqueueSnackbar } = useSnackbar()
  const refusal = useViewStore((s) => s.refusal)
  useEffect(() => {
    if (refusal === null) return
    enqueueSnackbar(refusal, { variant: 'warning', key: refusal, preventDuplicate: true })
    setBench({ refusal: null })
  }, [refusal, enqueueSnackbar])
}
