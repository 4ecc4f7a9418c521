import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { answer, api, type Problem, type Schemas } from '../../api/client'

export type Plan = Schemas['PlanNow']
export type PlanField = Schemas['PlanField']
export type Rec = Record<string, unknown>

/** The plan as it stands. */
export const usePlan = () => useQuery({ queryKey: ['plan'], queryFn: () => answer(api.GET('/api/plan')) })

/** What each campaign brought on its own days. */
export const useCame = () =>
  useQuery({ queryKey: ['came'], queryFn: () => answer(api.GET('/api/plan/came')) })

/** Accounts, campaigns and levels as spend files show them. */
export const useTree = () =>
  useQuery({ queryKey: ['tree'], queryFn: () => answer(api.GET('/api/plan/tree')) })

function useKept<T>(ask: (wanted: T) => Promise<Plan>) {
  const client = useQueryClient()
  return useMutation<Plan, Problem, T>({
    mutationFn: ask,
    onSuccess: async (plan) => {
      client.setQueryData(['plan'], plan)
      await client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'plan' })
    },
  })
}

/** Make a list of records a section's. */
export const useChangeRecords = () =>
  useKept(({ section, ...body }: { section: string; basis: number; records: Rec[]; what: string }) =>
    answer(api.PUT('/api/plan/sections/{section}', { params: { path: { section } }, body })),
  )

/** Change settings that are no lists. */
export const useChangeGeneral = () =>
  useKept((body: { basis: number; values: Rec }) => answer(api.PUT('/api/plan/general', { body })))

/** Make the rows of a file a section's records. */
export const useTakeInSection = () =>
  useKept(({ section, file }: { section: string; file: File }) => {
    const form = new FormData()
    form.append('file', file, file.name)
    return answer(
      api.POST('/api/plan/sections/{section}/file', {
        params: { path: { section } },
        body: form as never,
        bodySerializer: (body) => body as unknown as FormData,
      }),
    )
  })

/** Undo the latest change. */
export const useUndoPlan = () => useKept(() => answer(api.POST('/api/plan/undo')))

/** Ask the channel rules about an address. */
export const useTryChannel = () =>
  useMutation<Schemas['Tried'], Problem, { url: string; referrer: string; rules: Rec[] }>({
    mutationFn: (body) => answer(api.POST('/api/plan/channels/try', { body })),
  })

/** How many visits each rule takes, before and after. */
export const useRehearseChannels = () =>
  useMutation<Schemas['RuleCount'][], Problem, Rec[]>({
    mutationFn: (body) => answer(api.POST('/api/plan/channels/rehearsal', { body })),
  })

/** What a legend would do. */
export const usePreviewLegend = () =>
  useMutation<Schemas['LegendPreview'], Problem, Rec>({
    mutationFn: (body) => answer(api.POST('/api/plan/legends/preview', { body })),
  })
