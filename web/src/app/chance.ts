// chance writes a chance, 0 to 1, as people say one: “about 9 in 10”, “nearly always”; as core/fact/prose does.
export function chance(p: number): string {
  if (p >= 1) return 'always'
  if (p > 0.97) return 'nearly always'
  if (p <= 0) return 'never'
  if (p < 0.03) return 'hardly ever'
  const near = [
    [2, 0.013],
    [3, 0.013],
    [4, 0.013],
    [5, 0.013],
    [10, 0.035],
  ] as const
  for (const [of, within] of near) {
    const n = Math.round(p * of)
    if (n > 0 && n < of && Math.abs(n / of - p) <= within) return `about ${n} in ${of}`
  }
  return `about ${Math.max(1, Math.min(19, Math.round(20 * p)))} in 20`
}
