import { nextTick, ref, type Ref } from 'vue'
import type { Board, Row } from '../../api/client'
import { keyOf } from './rows'

/** The row that stands closer, on a scale of its own; when it stands back, the focus is where it was. */
export function useCloser(board: Ref<Board | undefined>) {
  const closer = ref<Row>()
  const rowAt = (element: Element | null) => {
    const key = element?.closest<HTMLElement>('tr[data-row]')?.dataset.row
    return board.value?.rows.find((row) => keyOf(row) === key)
  }
  let came: Element | null = null
  function comeCloser(row: Row | undefined) {
    if (!row || row.bucket !== 'named') return
    came = document.activeElement
    closer.value = row
  }
  function standBack() {
    closer.value = undefined
    void nextTick(() => came instanceof HTMLElement && came.focus())
  }
  return { closer, comeCloser, standBack, rowAt }
}
