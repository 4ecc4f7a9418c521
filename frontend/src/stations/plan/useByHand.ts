import { computed } from 'vue'
import { useChangeRecords, usePlan, useUndoPlan, type Rec } from './queries'
import { maskedText } from '../../shared/masked'
import type { SectionName } from './sections'

/** A record, as the list of records by hand names it. */
export interface ByHand {
  table: 'visits' | 'leads' | 'conversions'
  id: string
}

/**
 * The list of records by hand with one taken out or put back.
 *
 * @param list as it stands
 * @param one the record
 * @param out whether it is taken out
 * @returns the list; what was decided about it before is gone from it, so that putting back gives what was before
 */
export function decided(list: readonly Rec[], one: ByHand, out: boolean): Rec[] {
  const [wanted, other] = out ? ['quarantined', 'counted'] : ['counted', 'quarantined']
  const mine = list.find((record) => record.table === one.table && record.id === one.id)
  const rest = list.filter((record) => record !== mine)
  return mine?.state === other ? rest : [...rest, { table: one.table, id: one.id, state: wanted }]
}

/** Edits one list of the plan from where its records are, without its table. */
export function useListEdit() {
  const plan = usePlan()
  const change = useChangeRecords()
  /** One after the other: each begins with the list that the one before it left. */
  let before: Promise<unknown> = Promise.resolve()
  function after(work: () => Promise<unknown>) {
    before = before.then(work).catch(() => {})
  }
  function edit(section: SectionName, make: (list: Rec[]) => Rec[], what: string) {
    after(async () => {
      // A key that comes before the plan is there waits for it.
      const now = plan.data.value ?? (await plan.refetch()).data
      if (!now) return
      const list = (now.sections[section] ?? []) as Rec[]
      const records = make(list)
      // Somebody else has done it already.
      if (records === list) return
      await change.mutateAsync({ section, basis: now.basis, records, what })
    })
  }
  return { plan, change, edit, after }
}

/** What is decided of records by hand, one or all with a word: each is an edit of the plan, on trial, with its undo. */
export function useByHand() {
  const { plan, change, edit, after } = useListEdit()
  const undo = useUndoPlan()
  /** The latest change of the plan, if it is one of these: another is undone where it can be seen. */
  const last = computed(() => {
    const step = plan.data.value?.steps.find((one) => !one.undone)
    return step && /^(record|separation|status word|same as|legend of|matter|taken back:) /.test(step.what)
      ? step
      : undefined
  })
  const busy = computed(() => change.isPending.value || undo.isPending.value)

  const put = (one: ByHand, out: boolean) =>
    void edit(
      'record',
      (list) => decided(list, one, out),
      `record ${one.id} ${out ? 'taken out' : 'put back'}`,
    )
  /** All that one test made, or that one rule took out, in one act and with one undo. */
  const putAll = (all: readonly ByHand[], out: boolean) =>
    edit(
      'record',
      (list) => all.reduce((now: Rec[], one) => decided(now, one, out), list),
      `record ${all[0]?.id ?? ''}${all.length > 1 ? ` and ${all.length - 1} more` : ''} ${out ? 'taken out' : 'put back'}`,
    )
  const separate = (first: string, second: string) =>
    edit(
      'separate',
      (list) => [...list, { first, second }],
      `separation of ${maskedText(first)} and ${maskedText(second)} added`,
    )
  const giveMeaning = (word: string, means: string) =>
    edit('status', (list) => [...list, { word, means }], `status word ${word} added`)
  const sameAs = (field: string, old: string, meant: string) =>
    edit('rename', (list) => [...list, { field, old, new: meant }], `same as ${meant} added for ${old}`)
  /** What arrives untagged on a page on some days is of a source and a campaign: a legend of its own. */
  const readPage = (
    page: string,
    one: { source: string; campaign: string; from: string; until: string; mark?: string },
  ) =>
    edit(
      'legend',
      (list) => [
        ...list,
        {
          when: [
            { field: 'landing_page', op: 'is', value: page },
            { field: 'source', op: 'is empty' },
            { field: 'campaign', op: 'is empty' },
            // Who came by themselves carries no mark of a click.
            ...(one.mark ? [{ field: `parameter:${one.mark}`, op: 'is there' }] : []),
          ],
          from: one.from || null,
          until: one.until || null,
          fixed: { source: one.source, campaign: one.campaign },
        },
      ],
      `legend of ${page} added`,
    )
  /** What is said of matters: of each at most once. */
  const sayOf = (keys: readonly Rec[], said: Rec, what: string) =>
    edit(
      'matter',
      (list) => {
        const same = (a: Rec, b: Rec) =>
          a.kind === b.kind && a.object === b.object && (a.first_day ?? '') === (b.first_day ?? '')
        const rest = list.filter((one) => !keys.some((key) => same(one, key)))
        // What else was said of it before stays.
        return [...rest, ...keys.map((key) => ({ ...list.find((one) => same(one, key)), ...key, ...said }))]
      },
      what,
    )
  /** One record of a list is gone again, whatever came after it. */
  const withdraw = (section: SectionName, record: Rec, what: string) =>
    edit(
      section,
      (list) => {
        const gone = list.findIndex((one) => JSON.stringify(one) === JSON.stringify(record))
        return gone < 0 ? list : list.filter((_, at) => at !== gone)
      },
      `taken back: ${what}`,
    )
  const takeBack = () =>
    after(async () => {
      if (!plan.data.value) await plan.refetch()
      if (last.value) await undo.mutateAsync(undefined)
    })
  const error = computed(() => plan.error.value ?? change.error.value ?? undo.error.value)
  return {
    put,
    putAll,
    separate,
    giveMeaning,
    sameAs,
    readPage,
    sayOf,
    withdraw,
    takeBack,
    last,
    busy,
    error,
  }
}
