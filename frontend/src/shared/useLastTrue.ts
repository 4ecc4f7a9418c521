import { computed, shallowRef, watch, type Ref } from 'vue'

interface Query<T> {
  data: Ref<T | undefined>
  isPlaceholderData: Ref<boolean>
  isFetching: Ref<boolean>
  error: Ref<unknown>
}

/** The last true answer of a query, and whether it is an old one: being worked out anew, or not to be had. */
export function useLastTrue<T>(query: Query<T>) {
  const kept = shallowRef<T>()
  watch(
    [query.data, query.isPlaceholderData],
    ([data, isOld]) => {
      if (data !== undefined && !isOld) kept.value = data
    },
    { immediate: true },
  )
  const isOld = computed(
    () =>
      kept.value !== undefined &&
      (query.isPlaceholderData.value || query.isFetching.value || !!query.error.value),
  )
  return { shown: kept, isOld }
}
