export type Question = { id: number; text: string; country: string; known: string[] }

// Misspelt is a word that no dictionary has; start and end are in characters.
export type Misspelt = { start: number; end: number; word: string; instead: string[] }

const most = 8

// check finds the words of a text that are not in the dictionary. Names are let
// pass: words that are known, and words with a capital within a sentence.
export function check(q: Question, right: (word: string) => boolean, instead: (word: string) => string[]): Misspelt[] {
  const known = new Set(q.known.flatMap((k) => k.toLowerCase().match(/\p{L}+/gu) ?? []))
  const out: Misspelt[] = []
  const chars = [...q.text]
  const word = /[\p{L}][\p{L}\p{M}’']*/gu
  for (const m of q.text.matchAll(word)) {
    const bare = m[0].replace(/’/g, "'").replace(/'s?$/, '')
    const before = q.text.slice(0, m.index).trimEnd()
    const begins = before === '' || /[.!?:\n“"]$/.test(before)
    const named = /^\p{Lu}/u.test(bare) && !begins
    if (bare.length < 3 || named || /\p{Lu}.*\p{Lu}/u.test(bare) || known.has(bare.toLowerCase())) continue
    if (/[\p{N}@./-]/u.test(q.text[m.index - 1] ?? '') || right(bare) || right(bare.toLowerCase())) continue
    const start = [...q.text.slice(0, m.index)].length
    out.push({
      start,
      end: start + [...m[0]].length,
      word: chars.slice(start, start + [...m[0]].length).join(''),
      instead: instead(bare).slice(0, 3),
    })
    if (out.length === most) break
  }
  return out
}
