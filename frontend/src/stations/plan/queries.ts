import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { answer, api, type Problem, type Schemas } from '../../api/client'
import { tried, type Trial } from '../../shared/trial'

export type Plan = Schemas['PlanNow']
export type PlanField = Schemas['PlanField']
export type Rec = Record<string, unknown>

/** The plan as it stands. */
export const usePlan = () => useQuery({ queryKey: ['plan'], queryFn: () => answer(api.GET('/plan')) })

/** What each campaign brought on its own days. */
export const useCame = () => useQuery({ queryKey: ['came'], queryFn: () => answer(api.GET('/plan/came')) })

/** Accounts, campaigns and levels as spend files show them. */
export const useTree = () => useQuery({ queryKey: ['tree'], queryFn: () => answer(api.GET('/plan/tree')) })

/**
 * Keep an edit of the plan.
 *
 * @param keep keeps it, given the state that was tried
 * @param attempt asks what it would move; without, it is kept untried
 */
function useKept<T>(
  keep: (wanted: T, state: string) => Promise<Plan>,
  attempt?: (wanted: T) => Promise<Trial>,
) {
  const client = useQueryClient()
  return useMutation<Plan, Problem, T>({
    mutationFn: (wanted) =>
      attempt
        ? tried(
            () => attempt(wanted),
            (state) => keep(wanted, state),
          )
        : keep(wanted, ''),
    onSuccess: async (plan) => {
      client.setQueryData(['plan'], plan)
      await client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'plan' })
    },
  })
}

interface RecordsEdit {
  section: string
  basis: number
  records: Rec[]
  what: string
  was?: Record<string, string>
}
const asked = ({ section, was = {}, ...body }: RecordsEdit, state: string) => ({
  params: { path: { section } },
  body: { was, ...body, tried: state },
})

/** Make a list of records a section's. */
export const useChangeRecords = () =>
  useKept(
    (edit: RecordsEdit, state) => answer(api.PUT('/plan/sections/{section}', asked(edit, state))),
    (edit) => answer(api.POST('/plan/sections/{section}/trial', asked(edit, ''))),
  )

/** Change settings that are no lists. */
export const useChangeGeneral = () =>
  useKept(
    (body: { basis: number; values: Rec }, state) =>
      answer(api.PUT('/plan/general', { body: { ...body, tried: state } })),
    (body) => answer(api.POST('/plan/general/trial', { body: { ...body, tried: '' } })),
  )

export type ListRehearsal = Schemas['ListRehearsal']
export type How = 'add' | 'update' | 'replace'

function withFile(file: File) {
  const form = new FormData()
  form.append('file', file, file.name)
  return { body: form as never, bodySerializer: (body: unknown) => body as FormData }
}

/** What the rows of a file would do to a section. */
export const useRehearseSection = () =>
  useMutation<ListRehearsal, Problem, { section: string; file: File }>({
    mutationFn: ({ section, file }) =>
      answer(
        api.POST('/plan/sections/{section}/file/rehearsal', {
          params: { path: { section } },
          ...withFile(file),
        }),
      ),
  })

/** Take the rows of a file into a section. */
export const useTakeInSection = () =>
  useKept(
    ({ section, file, how }: { section: string; file: File; how: How }, state) =>
      answer(
        api.POST('/plan/sections/{section}/file', {
          params: { path: { section }, query: { how, tried: state } },
          ...withFile(file),
        }),
      ),
    ({ section, file, how }) =>
      answer(
        api.POST('/plan/sections/{section}/file/trial', {
          params: { path: { section }, query: { how } },
          ...withFile(file),
        }),
      ),
  )

/** Undo the latest change. */
export const useUndoPlan = () => useKept(() => answer(api.POST('/plan/undo')))

export type RuleSection = 'channel' | 'shared_channel'
interface Asked {
  url: string
  referrer: string
  rules: Rec[]
  section: RuleSection
}

/** Ask the channel rules about an address. */
export const useTryChannel = () =>
  useMutation<Schemas['Tried'], Problem, Asked>({
    mutationFn: (body) => answer(api.POST('/plan/channels/try', { body })),
  })

/** How many visits each rule takes, before and after. */
export const useRehearseChannels = () =>
  useMutation<Schemas['RuleCount'][], Problem, { rules: Rec[]; section: RuleSection }>({
    mutationFn: ({ rules, section }) =>
      answer(api.POST('/plan/channels/rehearsal', { params: { query: { section } }, body: rules })),
  })

/** What a legend would do. */
export const usePreviewLegend = () =>
  useMutation<Schemas['LegendPreview'], Problem, Rec>({
    mutationFn: (body) => answer(api.POST('/plan/legends/preview', { body })),
  })

export type SharedList = Schemas['SharedList']

/** The channel rules that workspaces share, beside this one's copy. */
export const useSharedRules = () =>
  useQuery({ queryKey: ['shared-rules'], queryFn: () => answer(api.GET('/plan/shared-rules')) })

function useShared(ask: (version: number) => Promise<SharedList>) {
  const client = useQueryClient()
  return useMutation<SharedList, Problem, number>({
    mutationFn: ask,
    onSuccess: (list) => client.setQueryData(['shared-rules'], list),
    onError: () => client.invalidateQueries({ queryKey: ['shared-rules'] }),
  })
}

/** Make this workspace's copy the shared list. */
export const useShareRules = () =>
  useShared((version) => answer(api.PUT('/plan/shared-rules/{version}', { params: { path: { version } } })))

/** Take back the list this workspace shared last. */
export const useWithdrawRules = () =>
  useShared((version) =>
    answer(api.DELETE('/plan/shared-rules/{version}', { params: { path: { version } } })),
  )

/** Make the shared list this workspace's copy. */
export const useTakeOverRules = () =>
  useKept(
    (body: { version: number; basis: number }, state) =>
      answer(api.POST('/plan/shared-rules/take-over', { body: { ...body, tried: state } })),
    (body) => answer(api.POST('/plan/shared-rules/take-over/trial', { body: { ...body, tried: '' } })),
  )
