import type { ViewHit } from '@/ui/view3d/three-view'

/** Set while a press in the picture is asked for, with what it will do; null while none is. */
export type Pointing = { readonly text: string; readonly onPoint: (hit: ViewHit | null) => void } | null
