import { lazy, Suspense, type ComponentProps } from 'react'

const Drawn = lazy(() => import('./Drawn'))

// Map draws a map; its code is fetched when the first one is looked at.
export function Map(props: ComponentProps<typeof Drawn>) {
  return (
    <Suspense fallback={<div className="map" style={{ height: props.height }} />}>
      <Drawn {...props} />
    </Suspense>
  )
}
