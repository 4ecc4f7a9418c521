import { VERDICT_WORDS } from '../../api/declared'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { ScaleKind } from '../../ruler/scale'
import { setAddress, useAddressList, useAddressState, useTypedState } from '../../shared/addressState'

type Code = keyof typeof VERDICT_WORDS

/** What the board is asked and how it is shown; all of it lives in the address. */
export function useQuestion() {
  const router = useRouter()
  const by = useAddressState('by', 'campaign')
  const then = useAddressState('then')
  const from = useAddressState('from')
  const to = useAddressState('to')
  const days = useAddressState('days')
  const yardstick = useAddressState('yardstick')
  const scale = useAddressState('scale', 'per_spend')
  const measure = useAddressState('measure', 'value')
  const picked = useAddressState('sort')
  const turned = useAddressState('order')
  /** Days, weeks and months stand in the order of time until somebody sorts them. */
  const inTime = computed(() => ['day', 'week', 'month'].includes(by.value))
  const sort = computed(() => picked.value || (inTime.value ? 'name' : 'spend'))
  const order = computed(() => turned.value || (!picked.value && inTime.value ? 'up' : 'down'))
  const find = useTypedState('find')
  const named = useAddressState('verdict')
  /** A verdict that only such rows are shown of; what an address says that is none asks for nothing. */
  const verdict = computed<Code | '', string>({
    get: () => (named.value in VERDICT_WORDS ? (named.value as Code) : ''),
    set: (code) => (named.value = code),
  })
  const view = useAddressState('view')
  const where = useAddressList('where')
  const panel = useAddressList('panel')
  /** Names of columns, or of a set of them; none = money. */
  const columns = useAddressList('columns')
  /** What the days are held against: nothing, or the time before of their kind. */
  const against = useAddressState('against')
  const asked = computed(() => ({
    by: then.value && then.value !== by.value ? `${by.value},${then.value}` : by.value,
    from: from.value || undefined,
    to: to.value || undefined,
    click_days: days.value || undefined,
    yardstick: yardstick.value || undefined,
    where: where.value.length ? where.value : undefined,
    // Verdicts ask the panel: board, certainty, files and trace must all be asked with the same one.
    panel: panel.value.length ? panel.value : undefined,
  }))
  /** How the rows are to be shown: the server puts them in order and finds them, for screen and file alike. */
  const shown = computed(() => ({
    sort: sort.value,
    descending: order.value === 'down',
    find: find.value || undefined,
    verdict: verdict.value || undefined,
    // Only where verdicts decide what is shown: the ruler's measure is the screen's own matter.
    measure: verdict.value || sort.value === 'verdict' ? (measure.value as 'value' | 'leads') : undefined,
    // By day a board has hundreds of rows: under yardsticks that nobody looks at they need not come.
    rulers_only: view.value !== 'table' || undefined,
    columns: columns.value.length ? columns.value : undefined,
  }))
  const change = (values: Record<string, string | string[] | undefined>) => setAddress(router, values)
  return {
    by,
    then,
    from,
    to,
    days,
    yardstick,
    scale: computed({ get: () => scale.value as ScaleKind, set: (v) => (scale.value = v) }),
    measure,
    sort,
    order,
    find,
    verdict,
    view,
    where,
    panel,
    columns,
    against,
    asked,
    shown,
    change,
  }
}

export type Asked = ReturnType<typeof useQuestion>['asked']['value']
export type Shown = ReturnType<typeof useQuestion>['shown']['value']

/** A value without the sign that parts one from the next; everything else the address itself escapes, once. */
const encoded = (value: string) => value.replaceAll('%', '%25').replaceAll('~', '%7E')
function decoded(value: string): string {
  try {
    return decodeURIComponent(value)
  } catch {
    // Typed by hand: a lone % is one.
    return value
  }
}

/** Which figure is being traced; it lives in the address too, so that the back button closes it. */
export function useTraced() {
  const router = useRouter()
  const traced = useAddressState('trace')
  const under = useAddressState('under')
  const cell = computed(() => {
    const [kind, bucket, figure, ...name] = traced.value.split('~')
    if (kind === 'part' && bucket) return { part: bucket }
    if (kind === 'row' && bucket && figure) return { bucket, figure, name: name.map(decoded) }
    return null
  })
  return {
    cell,
    /** The row whose figure is traced. */
    row: computed(() =>
      cell.value && 'figure' in cell.value
        ? { bucket: cell.value.bucket!, values: cell.value.name! }
        : undefined,
    ),
    /** Under which yardstick, if not under the board's. */
    yardstick: under,
    open: (bucket: string, figure: string, values: readonly string[], yardstick?: string) =>
      setAddress(router, {
        trace: ['row', bucket, figure, ...values.map(encoded)].join('~'),
        under: yardstick,
      }),
    openPart: (part: string) => setAddress(router, { trace: `part~${part}`, under: undefined }),
    close: () => setAddress(router, { trace: undefined, under: undefined }),
  }
}

export type Cell = NonNullable<ReturnType<typeof useTraced>['cell']['value']>
