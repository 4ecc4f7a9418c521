import { useClipboard } from '@vueuse/core'
import { computed, ref, type Ref } from 'vue'
import type { Board, Certainty } from '../../api/client'
import type { useQuestion } from './question'
import type { Measure } from './rows'

/** The board's rows on the clipboard, and for a moment the word that they are. */
export function useBoardCopy(
  question: ReturnType<typeof useQuestion>,
  board: Ref<Board | undefined>,
  isOld: Ref<boolean>,
  certainty: Ref<Certainty | undefined>,
) {
  const clipboard = useClipboard({ legacy: true, copiedDuring: 4000 })
  const words = ref('')
  async function copy() {
    if (!board.value || isOld.value) return
    const measure = question.measure.value as Measure
    // Loaded when somebody copies: the first view does without.
    const [{ boardCells }, { toClipboard }] = await Promise.all([
      import('./boardCells'),
      import('../../shared/clipboard'),
    ])
    if (!board.value) return
    const cells = boardCells(board.value, certainty.value, measure, question.view.value === 'table')
    await clipboard.copy(toClipboard(cells))
    const rows = cells.length - 2
    words.value = `${rows} ${rows === 1 ? 'row' : 'rows'} copied: paste them into a spreadsheet.`
  }
  return { copied: computed(() => (clipboard.copied.value ? words.value : '')), copy }
}
