import { computed, onMounted, ref, shallowReactive, shallowRef } from 'vue'
import { answer, api, type Schemas } from '../../api/client'
import { Left, tried } from '../../shared/trial'

export type Sheet = Schemas['Sheet']
export type SheetRow = Schemas['SheetRow']
export type RowChange = { key: string; cells: Record<string, string> | null; after?: string }

/** The link sheet: its rows, and edits that are kept one after the other. */
export function useSheet() {
  const rows = shallowReactive(new Map<string, SheetRow>())
  const order = shallowRef<string[]>([])
  const columns = shallowRef<Schemas['SheetColumn'][]>([])
  const steps = shallowRef<Schemas['Step'][]>([])
  const presets = shallowRef<Record<string, string>[]>([])
  const ads = shallowRef<Schemas['SheetAd'][]>([])
  const groups = shallowRef<Schemas['RegisteredGroup'][]>([])
  const error = ref<unknown>(null)
  const loaded = ref(false)
  const waiting = ref(0)
  /** Changes that are shown and not answered yet, in their order. */
  const unanswered: RowChange[][] = []
  let basis = 0
  let queue: Promise<unknown> = Promise.resolve()

  function take(sheet: Sheet) {
    basis = sheet.basis
    const there = new Set(sheet.order)
    for (const key of rows.keys()) if (!there.has(key)) rows.delete(key)
    for (const row of sheet.rows) rows.set(row.key, row)
    order.value = sheet.order
    columns.value = sheet.columns
    steps.value = sheet.steps
    ads.value = sheet.ads
    groups.value = sheet.groups
    presets.value = sheet.presets as Record<string, string>[]
    // The answer knows nothing of what was typed since it was asked for. Shown again at once, before anything is drawn:
    // a new row that was gone for a moment would take the cell with it that is being written.
    unanswered.forEach(show)
  }

  async function load() {
    const sheet = await answer(api.GET('/mark/links'))
    // In one go: a row that is shown must not be missing while the answer is on its way.
    rows.clear()
    take(sheet)
    loaded.value = true
  }

  function enqueue(ask: () => Promise<Sheet>) {
    waiting.value++
    queue = queue
      .then(ask)
      .then((sheet) => {
        error.value = null
        take(sheet)
      })
      .catch(async (problem) => {
        // Who leaves a trial knows that nothing was saved.
        error.value = problem instanceof Left ? null : problem
        await load().catch(() => {})
      })
      .finally(() => waiting.value--)
    return queue
  }

  /**
   * Show changes at once, and keep them as one change. Edits of other cells meanwhile are merged by the server. Where a
   * row has a price or gets one, figures may move: the change is on trial first.
   */
  function change(changes: RowChange[], what: string) {
    const priced = changes.some(({ key, cells }) => cells?.price || rows.get(key)?.cells.price)
    show(changes)
    unanswered.push(changes)
    const body = (state: string) => ({ body: { basis, changes: changes as never, what, tried: state } })
    const keep = (state: string) => answer(api.PATCH('/mark/links', body(state)))
    return enqueue(() =>
      (priced ? tried(() => answer(api.POST('/mark/links/trial', body(''))), keep) : keep('')).finally(() =>
        unanswered.shift(),
      ),
    )
  }

  function show(changes: RowChange[]) {
    const next = [...order.value]
    for (const { key, cells, after } of changes) {
      const old = rows.get(key)
      if (cells === null) {
        rows.delete(key)
        const at = next.indexOf(key)
        if (at >= 0) next.splice(at, 1)
        continue
      }
      // What stays as it is keeps its address: no answer would bring one.
      if (old && Object.entries(cells).every(([name, text]) => (old.cells[name] ?? '') === text)) continue
      // The old address would be wrong, and the new one is made by the server: until then there is none to copy.
      rows.set(key, {
        key,
        url: '',
        made: '',
        findings: old?.findings ?? [],
        cells: { ...old?.cells, ...cells },
      })
      if (!old) next.splice(after ? next.indexOf(after) + 1 : next.length, 0, key)
    }
    order.value = next
  }

  /** Links that went out were placed anew, with the address that their rows give now. */
  const placeAnew = (keys: string[]) =>
    enqueue(() => answer(api.POST('/mark/links/anew', { body: { basis, keys } })))

  const undo = () => enqueue(() => answer(api.POST('/mark/links/undo')))

  function takeIn(file: File) {
    const form = new FormData()
    form.append('file', file, file.name)
    const body = { body: form as never, bodySerializer: (body: unknown) => body as FormData }
    return enqueue(() =>
      tried(
        () => answer(api.POST('/mark/links/file/trial', body)),
        (state) => answer(api.POST('/mark/links/file', { params: { query: { tried: state } }, ...body })),
      ),
    )
  }

  const last = computed(() => steps.value.find((s) => !s.undone))
  onMounted(() => load().catch((problem) => (error.value = problem)))
  /** The plan is another: addresses and findings are made anew. */
  const reload = () => enqueue(() => answer(api.GET('/mark/links')))
  return {
    rows,
    order,
    columns,
    presets,
    ads,
    groups,
    last,
    error,
    loaded,
    waiting,
    change,
    placeAnew,
    undo,
    takeIn,
    reload,
  }
}

/** A key for a new row. */
export const newKey = () => crypto.randomUUID()
