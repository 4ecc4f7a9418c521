import { RULES } from '../api/declared'
/** Made once for each number of digits: making one takes as long as writing a hundred figures. */
const made = new Map<string, Intl.NumberFormat>()
function format(digits: number, useGrouping: boolean): Intl.NumberFormat {
  const key = `${digits} ${useGrouping}`
  let found = made.get(key)
  if (!found) {
    found = new Intl.NumberFormat('en', {
      useGrouping,
      minimumFractionDigits: digits,
      maximumFractionDigits: digits,
    })
    made.set(key, found)
  }
  return found
}
const grouped = (digits: number) => format(digits, true)

const NARROW_SPACE = '\u202f'
const ratios = grouped(2)
const credits = grouped(1)
const whole = grouped(0)

/** An amount with its decimals. */
export const amount = (value: number, digits: number): string => grouped(digits).format(value)

/** A figure as shown, as spreadsheets and programs read it: rounded alike, without grouping. */
export const ungrouped = (value: number, digits: number): string => format(digits, false).format(value)

/** Minor units as an amount with the currency's decimals. */
export function money(minor: number, digits: number): string {
  return amount(minor / 10 ** digits, digits)
}

/** An amount with its unit, for headings and labels where no column says it. */
export function moneyWithUnit(minor: number, digits: number, currency: string): string {
  return `${money(minor, digits)}${NARROW_SPACE}${currency}`
}

/** A ratio such as ROAS. */
export const ratio = (value: number): string => ratios.format(value)

/** Credited leads or sales: one decimal all down a column. */
export const credit = (value: number): string => credits.format(value)

/** A count. */
export const count = (value: number): string => whole.format(value)

/** A share of one conversion. */
export const share = (value: number): string => `${(value * 100).toFixed(1)}${NARROW_SPACE}%`

/** An instant in a time zone, to the minute. */
export function instant(iso: string, zone: string): string {
  const parts = new Intl.DateTimeFormat('en-CA', {
    timeZone: zone,
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
    hour12: false,
  }).formatToParts(new Date(iso))
  const part = (type: string) => parts.find((p) => p.type === type)?.value ?? ''
  return `${part('year')}-${part('month')}-${part('day')} ${part('hour') === '24' ? '00' : part('hour')}:${part('minute')}`
}

const NAMES: ReadonlyMap<string, string> = new Map(RULES.map((rule) => [rule.word, rule.label]))

/** A yardstick's name as shown; own names stay as they are. */
export const yardstickName = (name: string): string => NAMES.get(name) ?? name
