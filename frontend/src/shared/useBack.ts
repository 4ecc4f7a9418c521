import { useRouter } from 'vue-router'
import { useKeys } from './keys'

/**
 * Esc leads back to where one came from; a page that was opened by its address leads to the board.
 *
 * @param own what of the address is this page's alone
 */
export function useBack(...own: string[]): () => void {
  const router = useRouter()
  function back() {
    const rest = { ...router.currentRoute.value.query }
    for (const name of own) delete rest[name]
    if (window.history.state?.back) router.back()
    else void router.push({ name: 'weigh', query: rest })
  }
  useKeys({ Escape: back })
  return back
}
