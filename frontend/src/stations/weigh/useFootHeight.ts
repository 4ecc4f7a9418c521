import { useElementSize } from '@vueuse/core'
import { onBeforeUnmount, watchEffect, type Ref } from 'vue'

const HEAD = 40
const TOTALS = 56

/**
 * How tall the tie line is: the totals stand right above it, and what has the focus never lies under the head of the
 * board, its totals or the tie line.
 */
export function useFootHeight(foot: Ref<HTMLElement | undefined>) {
  const { height } = useElementSize(foot, { width: 0, height: 60 }, { box: 'border-box' })
  const page = document.documentElement.style
  watchEffect(() => (page.scrollPaddingBlock = `${HEAD}px ${height.value + TOTALS}px`))
  onBeforeUnmount(() => (page.scrollPaddingBlock = ''))
  return height
}
