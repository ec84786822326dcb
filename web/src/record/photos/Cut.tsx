import type { Schemas } from '../../api/client'

// Cut is a photo as a directory shows it, at a width in pixels.
export function Cut({ photo, fit, width }: { photo: Schemas['Photo']; fit: Schemas['PhotoFit']; width: number }) {
  const { x, y, w, h } = fit.window
  const at = (from: number, size: number) => (size >= 1 ? 0 : (from / (1 - size)) * 100)
  return (
    <span
      className={'cut' + (fit.circle ? ' circle' : '')}
      role="img"
      aria-label={`${fit.label} on ${fit.name}, ${width} pixels wide`}
      style={{
        width,
        height: Math.round((width * fit.height) / fit.width),
        backgroundImage: `url(/api/photos/${photo.id}/${width > 200 ? 'screen' : 'small'})`,
        backgroundSize: `${100 / w}% ${100 / h}%`,
        backgroundPosition: `${at(x, w)}% ${at(y, h)}%`,
      }}
    />
  )
}
