// readTable parts text copied from a spreadsheet into rows of cells: cells are
// parted by tabs, a cell with a tab, a line break or a quote in it is quoted.
export function readTable(text: string): string[][] {
  const rows: string[][] = [[]]
  let cell = ''
  let quoted = false
  const end = () => {
    rows.at(-1)!.push(cell.trim())
    cell = ''
  }
  for (let i = 0; i < text.length; i++) {
    const c = text[i]
    if (quoted) {
      if (c !== '"') cell += c
      else if (text[i + 1] === '"') cell += text[++i]
      else quoted = false
    } else if (c === '"' && cell === '') quoted = true
    else if (c === '\t') end()
    else if (c === '\n') {
      end()
      rows.push([])
    } else if (c !== '\r') cell += c
  }
  end()
  return rows.filter((r) => r.some((c) => c !== ''))
}
