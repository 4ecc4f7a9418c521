import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { answer, api, type Problem, type Schemas } from '../../api/client'
import { useAddressState } from '../../shared/addressState'
import type { Plan } from '../plan/queries'

export const LEVELS = ['account', 'campaign', 'group', 'ad'] as const
export type Level = (typeof LEVELS)[number]
export const TAGS = ['source', 'medium', 'campaign', 'term', 'content', 'id']

/** Whose pattern is looked at, what each level says of it, and what comes out. */
export function usePattern(plan: Ref<Plan | undefined>) {
  const client = useQueryClient()
  const there = useQuery({ queryKey: ['patterns'], queryFn: () => answer(api.GET('/mark/patterns')) })
  const platform = useAddressState('platform')
  const campaign = useAddressState('campaign')
  const group = useAddressState('group')
  const ad = useAddressState('ad')
  const kind = useAddressState('kind')
  const landing = useAddressState('landing')
  const whose = computed<Schemas['For']>(() => ({
    platform: platform.value || there.data.value?.platforms[0] || '',
    campaign: campaign.value,
    group: group.value,
    ad: ad.value,
    kind: kind.value,
  }))
  const resolved = useQuery({
    queryKey: ['resolved', whose, landing],
    queryFn: () =>
      answer(
        api.GET('/mark/patterns/resolved', {
          params: { query: { ...whose.value, landing: landing.value } as never },
        }),
      ),
    enabled: computed(() => !!whose.value.platform),
    placeholderData: keepPreviousData,
  })
  const set = useMutation<Plan, Problem, { level: Level; field: string; text: string }>({
    mutationFn: (cell) =>
      answer(
        api.PUT('/mark/patterns/cell', {
          body: { whose: whose.value, ...cell, basis: plan.value!.basis },
        }),
      ),
    onSuccess: async (now) => {
      client.setQueryData(['plan'], now)
      await client.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'plan' })
    },
  })
  /** What a level says of a part; of several parts the tags first, then the workspace's own, the referrer last. */
  const cellAt = (level: Level, field: string) =>
    resolved.data.value?.cells.find((c) => c.level === level && c.field === field)
  const others = computed(() =>
    [...new Set((resolved.data.value?.cells ?? []).map((c) => c.field))].filter(
      (f) => !TAGS.includes(f) && f !== 'referrer',
    ),
  )
  return { there, platform, campaign, group, ad, kind, landing, whose, resolved, set, cellAt, others }
}

export type Pattern = ReturnType<typeof usePattern>

/** The parameter that a field is in an address. */
export const parameterOf = (field: string) => (TAGS.includes(field) ? `utm_${field}` : field)
