// `import type {} from '@vast-meadow/grid/react'`: <vast-meadow> in JSX, as React 19 sets its properties and events.
import type { DetailedHTMLProps, HTMLAttributes } from 'react'
import type { MeadowElementEvents, MeadowElementOptions, VastMeadowElement } from '@vast-meadow/grid/element'

type Listeners = {
  [Name in keyof MeadowElementEvents as `on${Name}`]?: (event: MeadowElementEvents[Name]) => void
}

declare module 'react' {
  namespace JSX {
    interface IntrinsicElements {
      'vast-meadow': DetailedHTMLProps<HTMLAttributes<VastMeadowElement>, VastMeadowElement> &
        MeadowElementOptions &
        Listeners
    }
  }
}
