import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { answer, api } from '../../api/client'
import type { Asked, Cell, Shown } from './question'

/** The ruler board for a question, its rows as they are to be shown. */
export const useBoard = (asked: Ref<Asked>, shown: Ref<Shown>, wanted: Ref<boolean> | true = true) =>
  useQuery({
    queryKey: ['board', asked, shown],
    enabled: wanted,
    queryFn: () => answer(api.GET('/weigh/board', { params: { query: { ...asked.value, ...shown.value } } })),
    placeholderData: keepPreviousData,
  })

/** How sure the figures of the board are; it takes a moment more than the board itself. */
export const useCertainty = (asked: Ref<Asked>) =>
  useQuery({
    queryKey: ['certainty', asked],
    queryFn: () => answer(api.GET('/weigh/certainty', { params: { query: asked.value } })),
    placeholderData: keepPreviousData,
  })

/** Values of a field, the most met first, to filter by. */
export const useValues = (asked: Ref<Asked>, field: Ref<string>, wanted: Ref<boolean>) =>
  useQuery({
    queryKey: ['values', asked, field],
    enabled: wanted,
    queryFn: () =>
      answer(api.GET('/weigh/values', { params: { query: { ...asked.value, field: field.value } } })),
  })

export const PAGE = 100

/** One page of the trace of a cell. */
export const useTrace = (asked: Ref<Asked>, cell: Ref<Cell | null>, page: Ref<number>) =>
  useQuery({
    queryKey: ['trace', asked, cell, page],
    enabled: computed(() => cell.value !== null),
    placeholderData: keepPreviousData,
    queryFn: () => {
      const query = { ...asked.value, first: page.value * PAGE, limit: PAGE }
      const wanted = cell.value!
      if ('part' in wanted) {
        return answer(api.GET('/weigh/trace/{part}', { params: { path: { part: wanted.part! }, query } }))
      }
      return answer(api.GET('/weigh/trace', { params: { query: { ...query, ...wanted } } }))
    },
  })
