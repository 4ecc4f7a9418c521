import { useQuery } from '@tanstack/vue-query'
import { answer, api } from '../api/client'

const EVERY_MS = 2_000

/** What stands now, whichever window changed it, and what is being loaded; asked while the window is looked at. */
export const useNow = () =>
  useQuery({
    queryKey: ['now'],
    queryFn: () => answer(api.GET('/now')),
    refetchInterval: EVERY_MS,
    staleTime: 0,
  })
