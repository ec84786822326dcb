type Shape = {
  window: { x: number; y: number; w: number; h: number }
  width: number
  height: number
  circle: boolean
}

// Cut is a photo in a shape, at a width in pixels; without one, as wide as there is room.
export function Cut({ photo, shape: s, width, label }: { photo: string; shape: Shape; width?: number; label: string }) {
  const { x, y, w, h } = s.window
  const at = (from: number, size: number) => (size >= 1 ? 0 : (from / (1 - size)) * 100)
  return (
    <span
      className={'cut' + (s.circle ? ' circle' : '')}
      role="img"
      aria-label={label}
      style={{
        width: width ?? '100%',
        aspectRatio: `${s.width} / ${s.height}`,
        backgroundImage: `url(/api/photos/${photo}/${(width ?? 999) > 200 ? 'screen' : 'small'})`,
        backgroundSize: `${100 / w}% ${100 / h}%`,
        backgroundPosition: `${at(x, w)}% ${at(y, h)}%`,
      }}
    />
  )
}
