/** What a key does in the link sheet: one Tab in, one Tab out, inside the arrows go from cell to cell. */
import type { useSelection } from './useSelection'

export interface SheetDoings {
  /** Rows of a page, rows and columns there are. */
  page: number
  rows: number
  columns: number
  leave: () => void
  edit: (text?: string) => void
  empty: () => void
  sameBelow: () => void
  undo: () => void
}

/** Do it; false for a key that means nothing here. */
export function doKey(
  event: KeyboardEvent,
  { move, all }: Pick<ReturnType<typeof useSelection>, 'move' | 'all'>,
  to: SheetDoings,
): boolean {
  const held = event.ctrlKey || event.metaKey
  const steps: Record<string, [number, number]> = {
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
    ArrowRight: [0, 1],
    ArrowLeft: [0, -1],
    PageDown: [to.page, 0],
    PageUp: [-to.page, 0],
    Home: [held ? -to.rows : 0, -to.columns],
    End: [held ? to.rows : 0, to.columns],
  }
  const go = steps[event.key]
  if (go) move(go[0], go[1], event.shiftKey)
  else if (event.key === 'Escape') to.leave()
  else if (event.key === 'Enter' || event.key === 'F2') to.edit()
  else if (event.key === 'Delete' || event.key === 'Backspace') to.empty()
  else if (held && event.key === 'd') to.sameBelow()
  else if (held && event.key === 'a') all()
  else if (held && event.key === 'z') to.undo()
  else if (!held && !event.altKey && event.key.length === 1) to.edit(event.key)
  else return false
  return true
}
