export type Part = { text: string; differs: boolean }

// mostWords is up to how many words two texts are held against each other word by word.
const mostWords = 400

// parts cuts a text where it differs from another: whole words, and of numbers only the digits behind those that agree.
export function parts(text: string, other: string): Part[] {
  const a = words(text)
  const b = words(other)
  if (a.length > mostWords || b.length > mostWords) return [{ text, differs: true }]
  const same = common(a, b)
  const out: Part[] = []
  const push = (part: string, differs: boolean) => {
    const last = out[out.length - 1]
    if (last && last.differs === differs) last.text += part
    else if (part) out.push({ text: part, differs })
  }
  a.forEach((word, i) => {
    if (same.has(i)) return push(word, false)
    const near = b[i] ?? ''
    const n = /\d$/.test(word) && near.length === word.length && a.length === b.length ? shared(word, near) : 0
    push(word.slice(0, n), false)
    push(word.slice(n), true)
  })
  // A space between two words that differ belongs to them.
  return out.filter((p) => p.text !== '')
}

function words(text: string): string[] {
  return text.split(/(\s+|(?<=[,;–/])|(?=[,;–/]))/).filter((w) => w !== '')
}

// shared is how many characters two words begin with alike.
function shared(a: string, b: string): number {
  let n = 0
  while (n < a.length && a[n] === b[n]) n++
  return n
}

// common are the places in a of a longest common run of words with b, in order.
function common(a: string[], b: string[]): Set<number> {
  const table = Array.from({ length: a.length + 1 }, () => new Uint16Array(b.length + 1))
  const at = (i: number, j: number) => table[i]?.[j] ?? 0
  for (let i = a.length - 1; i >= 0; i--) {
    for (let j = b.length - 1; j >= 0; j--) {
      table[i]![j] = a[i] === b[j] ? at(i + 1, j + 1) + 1 : Math.max(at(i + 1, j), at(i, j + 1))
    }
  }
  const out = new Set<number>()
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    if (a[i] === b[j]) {
      out.add(i)
      i++
      j++
    } else if (at(i + 1, j) >= at(i, j + 1)) i++
    else j++
  }
  return out
}
