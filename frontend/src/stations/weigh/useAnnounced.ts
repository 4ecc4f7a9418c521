import { ref, watch, type Ref } from 'vue'
import type { Board } from '../../api/client'
import { boardSays, boardWords } from './boardWords'

/** What a board says once it is the one that was asked for, to whoever does not see it change. */
export function useAnnounced(board: Ref<Board | undefined>, isOld: Ref<boolean>) {
  const announced = ref('')
  watch(
    () => (board.value && !isOld.value ? `${board.value.fingerprint} ${boardWords(board.value)}` : ''),
    (now, before) => {
      if (now && before !== now && board.value) announced.value = boardSays(board.value)
    },
  )
  return announced
}
