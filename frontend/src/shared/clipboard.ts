/** Cells as spreadsheets put them on the clipboard: tabs, lines, quotes around what holds either. */
export function toClipboard(rows: string[][]): string {
  const cell = (text: string) => (/["\t\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text)
  return rows.map((row) => row.map(cell).join('\t')).join('\n')
}

/** The clipboard of a spreadsheet as cells. */
export function fromClipboard(text: string): string[][] {
  const rows: string[][] = [[]]
  let cell = ''
  let quoted = false
  const source = text.replace(/\r\n?/g, '\n').replace(/\n$/, '')
  for (let i = 0; i < source.length; i++) {
    const c = source[i]!
    if (quoted) {
      if (c !== '"') cell += c
      else if (source[i + 1] === '"') cell += source[i++]
      else quoted = false
    } else if (c === '"' && cell === '') quoted = true
    else if (c === '\t' || c === '\n') {
      rows.at(-1)!.push(cell)
      cell = ''
      if (c === '\n') rows.push([])
    } else cell += c
  }
  rows.at(-1)!.push(cell)
  return rows
}

/** Text as a cell that no spreadsheet runs. */
export const asText = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text)
