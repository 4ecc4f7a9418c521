/** The lists of the plan as screens show them: all but the settings that are no lists is declared in Python. */
import { RULES, SECTIONS as DECLARED } from '../../api/declared'

type Declared = (typeof DECLARED)[number]
export type SectionName = Declared['name'] | ''

export interface Section {
  name: SectionName
  title: string
  one: string
  purpose: string
  columns: readonly string[]
  ordered?: boolean
}

const of = (place: Declared['place']): Section[] => DECLARED.filter((s) => s.place === place)

const WORKSPACE: Section = {
  name: '',
  title: 'Workspace',
  one: 'setting',
  purpose: 'Currency, zone, targets, windows, hosts and parameters.',
  columns: [],
}

export const SECTIONS: Section[] = [...of('plan'), WORKSPACE]

/** What links are built from: edited in Mark, beside what it changes. */
export const MARK_SECTIONS: Section[] = of('mark')

export const ofMark = (...names: SectionName[]) =>
  names.map((name) => MARK_SECTIONS.find((s) => s.name === name)!)

const ofGather = (name: SectionName) => of('gather').find((s) => s.name === name)!

/** Where spend comes from: edited in Gather, beside what arrives. */
export const PLATFORMS = ofGather('platform')

/** Where rows come from: edited in Gather. */
export const SOURCES = ofGather('source')

const LABELS: Record<string, string> = {
  from: 'from',
  to: 'to',
  old: 'value as it came',
  new: 'becomes',
  op: 'how',
}

/** The name of a field as a label. */
export const labelOf = (name: string): string =>
  LABELS[name] ?? name.replaceAll('_', ' ').replace('utm ', 'utm_')

/** The same at the head of a column or before a field; parameters keep their own spelling. */
export const headOf = (name: string): string => {
  const label = labelOf(name)
  return label.startsWith('utm_') ? label : label.charAt(0).toUpperCase() + label.slice(1)
}

/** The yardsticks that stand where the plan names none. */
export const USUAL_YARDSTICKS: Record<string, unknown>[] = RULES.filter((rule) => rule.usual).map(
  ({ word }) => ({ name: word, rule: word }),
)
