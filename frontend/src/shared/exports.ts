import { useLocalStorage } from '@vueuse/core'

/** A table that can be taken away; `rows` where their number is known, `what` tells several of one place apart. */
export interface Table {
  path: string
  query?: Record<string, unknown>
  what?: string
  rows?: number
  columns?: number
  /** Makes the file, where no address could hold what is asked. */
  make?: (format: Format) => unknown
}

/** Formats by the letter that picks them. */
export const FORMATS = { c: 'csv', x: 'xlsx', p: 'parquet', j: 'jsonl' } as const
export const FORMAT_NAMES = { csv: 'CSV', xlsx: 'XLSX', parquet: 'Parquet', jsonl: 'JSON Lines' } as const
export type Letter = keyof typeof FORMATS
export type Format = (typeof FORMATS)[Letter]

/** Where a table is to be had in a format, below the workspace's own address. */
export function pathOf(table: Table, letter: Letter): string {
  const known = Object.entries(table.query ?? {}).flatMap(([name, value]) =>
    [value ?? []].flat().map((one): [string, string] => [name, String(one)]),
  )
  return `${table.path}.${FORMATS[letter]}${known.length ? `?${new URLSearchParams(known)}` : ''}`
}

/** What was taken away last, by its letter: `e e` takes it again. */
export const lastTaken = useLocalStorage('yardstick-export', 'c')

export interface Control {
  root: () => HTMLElement | undefined
  toggle: () => void
}
const CONTROLS = new Set<Control>()

export function register(control: Control): () => void {
  CONTROLS.add(control)
  return () => CONTROLS.delete(control)
}

/** The control of the region that has the focus, else the first of the page: one key reaches the one that is meant. */
export function isMeant(control: Control): boolean {
  const shown = [...CONTROLS].filter((one) => one.root()?.isConnected)
  shown.sort((a, b) =>
    a.root()!.compareDocumentPosition(b.root()!) & Node.DOCUMENT_POSITION_FOLLOWING ? -1 : 1,
  )
  const at = document.activeElement
  const region = (one: Control) => one.root()!.closest('section, dialog, form')
  return control === (shown.find((one) => at && region(one)?.contains(at)) ?? shown[0])
}
