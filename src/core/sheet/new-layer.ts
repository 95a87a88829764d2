import type { Layer } from './sheet-schema'

/** A layer with everything at its beginning but what is given: shown, normal, whole, unmasked. */
export const newLayer = (given: Partial<Layer> & Pick<Layer, 'id' | 'name' | 'source'>): Layer => ({
  visible: true,
  mode: 'normal',
  opacity: 1,
  confine: false,
  mask: null,
  effects: [],
  ...given,
})
