import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useNow } from '../../shared/now'
import type { useBoard } from './queries'

/** Whether data or plan were changed, in another window, since a board was worked out; and a way to the new figures. */
export function useOvertaken(board: ReturnType<typeof useBoard>) {
  const client = useQueryClient()
  const now = useNow()
  /** The plan under which the board stands: asked for as its answer comes. */
  const plan = ref<number>()
  watch(
    () => board.dataUpdatedAt.value,
    async () => (plan.value = (await now.refetch()).data?.plan),
    { immediate: true },
  )
  const isOvertaken = computed(() => {
    const [shown, stands] = [board.data.value, now.data.value]
    if (!shown || !stands || board.isFetching.value || !stands.data) return false
    return stands.data !== shown.data || (plan.value !== undefined && stands.plan !== plan.value)
  })
  return { isOvertaken, showNew: () => client.invalidateQueries() }
}
