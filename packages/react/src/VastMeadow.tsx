import { EVENT_NAMES, followOptions, mountMeadow } from '@vast-meadow/grid'
import { gridComponent } from './grid-component.tsx'

/**
 * The grid as a React component. Options of `mountMeadow` are props, its events are `on` and their names, and a `ref` gives
 * the mounted grid. On a server it renders an empty element.
 */
export const VastMeadow = gridComponent({
  events: EVENT_NAMES,
  open: (host, options) => ({ grid: mountMeadow(host, options), follow: followOptions }),
})
