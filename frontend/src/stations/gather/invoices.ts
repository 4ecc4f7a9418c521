import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { answer, api, type Problem, type Schemas } from '../../api/client'

export type Invoice = Required<Schemas['Invoice']>
export type AccountMonth = Schemas['AccountMonth']

/** Every month of every account. */
export const useAccounts = () =>
  useQuery({ queryKey: ['accounts'], queryFn: () => answer(api.GET('/gather/accounts')) })

const asked = ({ platform, account, month }: { platform: string; account: string; month: string }) => ({
  path: { month },
  query: { platform, account },
})

/** An account's month: the invoice beside its rows. */
export const useInvoice = (of: Ref<AccountMonth | undefined>) =>
  useQuery({
    queryKey: computed(() => ['invoice', of.value?.platform, of.value?.account, of.value?.month]),
    enabled: computed(() => !!of.value),
    queryFn: async () =>
      (await answer(api.GET('/gather/invoices/{month}', { params: asked(of.value!) }))) as Invoice,
  })

/** Keep what an invoice says. */
export function useTypeInvoice() {
  const client = useQueryClient()
  return useMutation<unknown, Problem, Invoice & { amount: string }>({
    mutationFn: ({ amount, currency, ...of }) =>
      answer(api.PUT('/gather/invoices/{month}', { params: asked(of), body: { amount, currency } })),
    onSuccess: () => client.invalidateQueries(),
  })
}
