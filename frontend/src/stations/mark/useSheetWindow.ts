/** Which rows of the link sheet are in sight: on paper every one stands. */
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, ref, watch, type ComputedRef, type Ref } from 'vue'

export const HEIGHT = 26
const OVERSCAN = 8

export function useSheetWindow(
  keys: ComputedRef<string[]>,
  focus: Ref<{ row: number }>,
  onPaper: Ref<boolean>,
) {
  const box = ref<HTMLElement>()
  const lines = useVirtualizer(
    computed(() => ({
      count: keys.value.length,
      getScrollElement: () => box.value ?? null,
      estimateSize: () => HEIGHT,
      overscan: OVERSCAN,
      // The titles stay above, and a line more is seen below the one that has the focus.
      scrollPaddingEnd: 2 * HEIGHT,
      initialRect: { width: 0, height: 480 },
    })),
  )
  const inSight = computed(() => lines.value.getVirtualItems())
  const first = computed(() => (onPaper.value ? 0 : (inSight.value[0]?.index ?? 0)))
  const shown = computed(() =>
    onPaper.value ? keys.value : keys.value.slice(first.value, (inSight.value.at(-1)?.index ?? -1) + 1),
  )
  /** Keep the focused row in sight. */
  watch(focus, ({ row }) => lines.value.scrollToIndex(row))
  return { box, first, shown }
}
