import { useSay } from './say'

// useCopy puts a text on the clipboard and says so by its name, or that the browser
// does not let it; it tells whether it is there.
export function useCopy() {
  const say = useSay()
  return async (name: string, text: string): Promise<boolean> => {
    try {
      await navigator.clipboard.writeText(text)
    } catch {
      say('The browser keeps Uvent from its clipboard; copy the text by hand.')
      return false
    }
    say(`${name} is on the clipboard.`)
    return true
  }
}
