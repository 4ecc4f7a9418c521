import type { Rec } from './queries'

/** A value of a record on one line. */
export function shown(value: unknown): string {
  if (value === undefined || value === null) return ''
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (Array.isArray(value))
    return value.map(shown).join(value.every((v) => typeof v === 'string') ? ', ' : '; ')
  if (typeof value === 'object') return Object.values(value).map(shown).filter(Boolean).join(' ')
  return String(value)
}

/** Whether any value of a record contains a text, whatever the case. */
export const matches = (record: Rec, text: string): boolean =>
  !text || Object.values(record).some((v) => shown(v).toLowerCase().includes(text.toLowerCase()))

/** A list with one entry at another place. */
export function moved<T>(list: T[], from: number, to: number): T[] {
  const out = list.filter((_, i) => i !== from)
  out.splice(to, 0, list[from]!)
  return out
}

/** What others call a record by. */
export const calledBy = (record: Rec): string => shown(record.name ?? record.platform)

const FOLLOWED = ['campaign', 'level', 'goal', 'landing_page', 'place', 'yardstick', 'dialect', 'platform']
const FOUND_OUTSIDE = ['campaign', 'level', 'goal']

/** What happens to those that name a record when it is called otherwise; empty where it is not. */
export function renaming(section: string, before: Rec, now: Rec): string {
  const [old, name] = [calledBy(before), calledBy(now)]
  if (!old || !name || old === name || !FOLLOWED.includes(section)) return ''
  const outside = `; addresses and files outside that say ${old} still find it`
  return `All that names it follows${FOUND_OUTSIDE.includes(section) ? outside : ''}.`
}

/** An exact decimal as it is written, with thousands; anything else as it is. */
export function grouped(text: string): string {
  const found = /^(-?)(\d+)(\.\d+)?$/.exec(text)
  return found ? `${found[1]}${found[2]!.replace(/\B(?=(\d{3})+$)/g, ',')}${found[3] ?? ''}` : text
}
