const STEPS: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
}

/** Arrow keys move the focus between the figures of a table, its totals too. */
export function moveFocus(event: KeyboardEvent): void {
  const step = STEPS[event.key]
  const cell = (event.target as HTMLElement).closest('td, th')
  const row = cell?.parentElement
  const table = row?.closest('table')
  if (!step || !cell || !row || !table) return
  // Totals follow the rows, whichever part of the table holds them.
  const rows = [...table.querySelectorAll('tbody > tr, tfoot > tr')]
  const columns = [...row.children]
  let [r, c] = [rows.indexOf(row), columns.indexOf(cell)]
  for (;;) {
    r += step[0]
    c += step[1]
    const next = rows[r]?.children[c]
    if (!rows[r] || !columns[c]) return
    const button = next?.querySelector<HTMLElement>('button')
    if (button) {
      button.focus()
      event.preventDefault()
      return
    }
  }
}
