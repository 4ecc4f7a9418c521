import { computed, nextTick, ref, type Ref } from 'vue'
import { forget, remember } from './drafts'
import { useChangeRecords, type Plan, type Rec } from './queries'
import { calledBy, moved, shown } from './records'
import { USUAL_YARDSTICKS, type Section } from './sections'

/** What the form holds: where it stands in the list (at its end = new), and the record. */
export interface Open {
  at: number
  record: Rec
  isNew: boolean
}

/** The name under which what was typed into a form is kept until it is kept or dropped. */
export function draftOf(section: string, open: Open | null): string {
  if (!open) return ''
  if (!open.isNew) return `${section} ${calledBy(open.record) || open.at}`
  // A form that begins with something of its own takes nothing from an earlier one.
  return Object.keys(open.record).length ? '' : `${section} new`
}

/** One list of records of the plan being edited: each change is kept at once, with one undo. */
export function useRecords(plan: Ref<Plan | undefined>, section: Ref<Section>) {
  const change = useChangeRecords()
  const open = ref<Open | null>(null)
  const records = computed(() => {
    const stated = (plan.value?.sections[section.value.name] ?? []) as Rec[]
    // Naming one yardstick must not take the usual ones away.
    return section.value.name === 'yardstick' && !stated.length ? USUAL_YARDSTICKS : stated
  })
  const numbers = computed(() =>
    (plan.value?.fields[section.value.name] ?? []).filter((f) => f.kind === 'number').map((f) => f.name),
  )

  /** What opened the form: there the focus returns. */
  let opener: HTMLElement | null = null

  function edit(at: number, record: Rec = records.value[at] ?? {}) {
    change.reset()
    opener = document.activeElement as HTMLElement | null
    open.value = { at, record, isNew: at >= records.value.length }
  }

  function close() {
    change.reset()
    open.value = null
    void back()
  }

  async function back() {
    await nextTick()
    if (document.activeElement === document.body && opener?.isConnected) opener.focus()
  }

  /** Keep a list. The form that was open then closes; one opened while the answer was on its way stays. */
  async function put(list: Rec[], what: string, was: Record<string, string> = {}) {
    const before = open.value
    await change.mutateAsync({
      section: section.value.name,
      basis: plan.value!.basis,
      records: list,
      what: `${section.value.one} ${what}`,
      was,
    })
    if (open.value === before) {
      open.value = null
      void back()
    }
  }

  /** The list as it would be with a record in the form's place. */
  function withDraft(record: Rec): Rec[] {
    const list = [...records.value]
    list[open.value!.at] = record
    return list
  }

  const nameOf = (record: Rec) => shown(record[section.value.columns[0]!])

  function keep(record: Rec) {
    const before = open.value!.isNew ? null : open.value!.record
    const what = before ? 'changed' : 'added'
    const [now, old] = [calledBy(record), before ? calledBy(before) : '']
    const was = old && now !== old ? { [now]: old } : {}
    const typed = draftOf(section.value.name, open.value)
    // Gone at once, so that a form opened while the answer is on its way begins with nothing of it.
    forget(typed)
    void put(withDraft(record), `${nameOf(record)} ${what}`, was).catch(() => remember(typed, record))
  }

  function remove(at: number) {
    const without = records.value.filter((_, i) => i !== at)
    void put(without, `${nameOf(records.value[at]!)} removed`).catch(() => {})
  }

  const move = (from: number, to: number) =>
    void put(moved(records.value, from, to), `${shown(records.value[from]!.name)} moved`).catch(() => {})

  return { change, open, records, numbers, edit, close, put, keep, remove, move, withDraft }
}
