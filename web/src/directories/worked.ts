// worked is how a directory is worked, in words.
export const worked: Record<string, string> = {
  connected: 'connected',
  by_hand: 'by hand',
  written: 'by hand, written request',
  file: 'file',
  fed: 'fed only',
  suggestions: 'suggestions',
}
