// `import type {} from '@vast-meadow/grid/vue'`: <vast-meadow> in the templates of Vue.
import type { HTMLAttributes } from 'vue'
import type { MeadowElementEvents, MeadowElementOptions } from '@vast-meadow/grid/element'

type Listeners = {
  [Name in keyof MeadowElementEvents as `on${Capitalize<Name>}`]?: (event: MeadowElementEvents[Name]) => void
}

declare module 'vue' {
  interface GlobalComponents {
    'vast-meadow': new () => { $props: MeadowElementOptions & HTMLAttributes & Listeners }
  }
}
