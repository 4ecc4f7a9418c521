import { computed, type WritableComputedRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/**
 * One value of a view's state that lives in the address, so that it can be copied, shared and come back to.
 * The usual value is left out of the address.
 */
export function useAddressState(name: string, usual = ''): WritableComputedRef<string> {
  const route = useRoute()
  const router = useRouter()
  return computed({
    get: () => {
      const value = route.query[name]
      return typeof value === 'string' ? value : usual
    },
    set: (value) => setAddress(router, { [name]: value === usual ? undefined : value }),
  })
}

/** A value that is typed: however many letters, the browser's back button takes them back in one step. */
export function useTypedState(name: string, usual = ''): WritableComputedRef<string> {
  const route = useRoute()
  const router = useRouter()
  const at = useAddressState(name, usual)
  return computed({
    get: () => at.value,
    set: (value) => {
      const query = { ...route.query, [name]: value === usual ? undefined : value }
      // What begins is a step of its own, what goes on is not.
      void (at.value === usual ? router.push({ query }) : router.replace({ query }))
    },
  })
}

/** A value that is a list: the name stands in the address once for every entry. */
export function useAddressList(name: string): WritableComputedRef<string[]> {
  const route = useRoute()
  const router = useRouter()
  return computed({
    get: () => [route.query[name] ?? []].flat().filter((v): v is string => !!v),
    set: (value) => setAddress(router, { [name]: value.length ? value : undefined }),
  })
}

/** Change several values in one step, so that the browser's back button takes them back in one step. */
export function setAddress(
  router: ReturnType<typeof useRouter>,
  values: Record<string, string | string[] | undefined>,
): Promise<unknown> {
  return router.push({ query: { ...router.currentRoute.value.query, ...values } })
}
