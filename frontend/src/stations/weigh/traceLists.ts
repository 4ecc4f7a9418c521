import type { Trace } from '../../api/client'
import { count, credit, instant, money } from '../../shared/format'

/** A cell of a list: its text, what is said where it is pointed at, what stands behind it in quieter letters. */
export type Cell = {
  text: string
  hint?: string
  quiet?: string
  /** The line of the file that `text` names, where the row came from. */
  line?: number
}
export type Column = { head: string; number?: boolean; width?: number; small?: boolean; wraps?: boolean }
/** A list of a trace as a table: rows of cells under its columns. */
export type TraceList = {
  label: string
  title: string
  about?: string
  lead?: string
  columns: Column[]
  rows: { key: string; cells: Cell[] }[]
}

/** States whose removal gives the figure, under a yardstick that credits them. */
export const statesOf = (trace: Trace): TraceList => ({
  label: 'States that give this figure',
  title: 'What would be lost without them',
  lead:
    'Removal credits states, not touches: the effect is the share of a goal’s conversions that would be lost if everyone ' +
    'who comes to the state went away. Conversions are shared in proportion to the effects.',
  columns: [
    { head: 'State' },
    { head: 'Goal' },
    { head: 'Effect', number: true },
    { head: 'Credited here', number: true },
    { head: trace.currency, number: true },
  ],
  rows: trace.states.map((s) => ({
    key: `${s.goal} ${s.state}`,
    cells: [
      { text: s.state },
      { text: s.goal },
      { text: `${(s.effect * 100).toFixed(1)} %` },
      { text: credit(s.share) },
      { text: money(s.value, trace.minor_digits) },
    ],
  })),
})

/** Where untagged touches came from and where they landed. */
export const openingsOf = (trace: Trace): TraceList => ({
  label: 'Where the untagged touches came from',
  title: 'Where these touches came from and where they landed',
  columns: [
    { head: 'Channel', width: 104 },
    { head: 'Referrer', width: 110 },
    { head: 'Landing page', wraps: true },
    { head: 'Touches', number: true, width: 66 },
    { head: 'Credited', number: true, width: 66 },
    { head: trace.currency, number: true, width: 84 },
  ],
  rows: trace.openings.map((o) => ({
    key: `${o.channel} ${o.referrer_host} ${o.landing_page}`,
    cells: [
      { text: o.channel, hint: o.channel },
      { text: o.referrer_host || '–', hint: o.referrer_host },
      { text: o.landing_page.replace(/^https?:\/\//, '') || '–', hint: o.landing_page },
      { text: count(o.touches) },
      { text: credit(o.share) },
      { text: money(o.value, trace.minor_digits) },
    ],
  })),
})

/** Spend rows as their platforms reported them. */
export const spendOf = (trace: Trace): TraceList => ({
  label: 'Spend rows',
  title: 'Spend rows',
  columns: [
    { head: 'Day', width: 80, small: true },
    { head: 'Platform, account', width: 104 },
    { head: 'Level' },
    { head: 'As reported', number: true, width: 86 },
    { head: trace.currency, number: true, width: 62 },
    { head: 'Clicks', number: true, width: 48 },
    { head: 'File, line', width: 98 },
  ],
  rows: trace.spend_rows.map((s) => ({
    key: `${s.file} ${s.line}`,
    cells: [
      { text: s.day },
      { text: `${s.platform} ${s.account}`, hint: `${s.platform} ${s.account}` },
      { text: s.level || s.campaign, hint: [s.campaign, s.level].filter(Boolean).join(', ') },
      { text: `${s.original} ${s.currency}`, quiet: s.estimated ? 'est.' : '' },
      { text: money(s.cost, trace.minor_digits) },
      { text: count(s.clicks) },
      { text: s.file, line: s.line },
    ],
  })),
})

/** Touches that a figure of touches counts. */
export const touchesOf = (trace: Trace): TraceList => ({
  label: 'Touches',
  title: 'Touches',
  about: `times in ${trace.time_zone}`,
  columns: [
    { head: 'When', small: true },
    { head: 'Campaign' },
    { head: 'Source / medium' },
    { head: 'Channel' },
    { head: 'File, line' },
  ],
  rows: trace.touches.map((t) => ({
    key: `${t.file} ${t.line}`,
    cells: [
      { text: instant(t.at, trace.time_zone) },
      { text: t.campaign || (t.tagged ? 'no campaign' : 'untagged') },
      { text: [t.source, t.medium].filter(Boolean).join(' / ') || '–' },
      { text: t.channel, hint: t.why },
      { text: t.file, line: t.line },
    ],
  })),
})
