// How long it is waited, in ms, before a part of Uvent is fetched again, at first and at most.
const [firstPause, mostPause] = [500, 8_000]

// fetched is a part of Uvent's own script, asked for until it comes. Where another Uvent is served by now, which has other
// parts, the page is loaded anew: what is typed is kept as a draft.
export async function fetched<Part>(ask: () => Promise<Part>): Promise<Part> {
  for (let pause = firstPause; ; pause = Math.min(2 * pause, mostPause)) {
    try {
      return await ask()
    } catch {
      if (await replaced()) return (location.reload(), await new Promise<never>(() => {}))
      await new Promise((over) => setTimeout(over, pause))
    }
  }
}

// replaced reports whether the page that is served now is another than this one.
async function replaced() {
  const own = document.querySelector<HTMLScriptElement>('script[type=module]')?.getAttribute('src')
  const now = await fetch('/', { cache: 'no-store' }).catch(() => null)
  return !!own && !!now?.ok && !(await now.text()).includes(own)
}
