/** What the sections of the plan are called, what each is for, and which fields its table shows. */
export type SectionName =
  | 'campaign'
  | 'level'
  | 'goal'
  | 'status'
  | 'quarantine'
  | 'record'
  | 'channel'
  | 'shared_channel'
  | 'legend'
  | 'rename'
  | 'naming'
  | 'allowed'
  | 'landing_page'
  | 'other_cost'
  | 'click_price'
  | 'platform'
  | 'yardstick'
  | 'dialect'
  | 'place'
  | 'store'
  | 'preset'
  | 'pattern'
  | 'own_slot'
  | 'sender'
  | 'source'
  | ''

export interface Section {
  name: SectionName
  title: string
  one: string
  purpose: string
  columns: string[]
  ordered?: boolean
}

export const SECTIONS: Section[] = [
  {
    name: 'campaign',
    title: 'Campaigns',
    one: 'campaign',
    purpose:
      'Known before their links. Codes, ids and vouchers join arrivals and spend to them; reports show the plain name.',
    columns: ['name', 'plain_name', 'code', 'state', 'starts', 'ends', 'owner'],
  },
  {
    name: 'level',
    title: 'Level tree',
    one: 'name for an id',
    purpose:
      'Groups, ads, keywords and placements under a campaign: the name reports show in place of an id.',
    columns: ['campaign', 'level', 'id', 'name', 'platform', 'under'],
  },
  {
    name: 'goal',
    title: 'Goals',
    one: 'goal',
    purpose: 'What counts as a conversion, which records count, and what each is worth, from which day on.',
    columns: ['name', 'from', 'kind', 'count', 'value', 'fixed_value', 'default_value', 'click_days'],
  },
  {
    name: 'status',
    title: 'Status words',
    one: 'status word',
    purpose: 'What a word in the status of a lead or order means. A word that is not here counts.',
    columns: ['word', 'means'],
  },
  {
    name: 'quarantine',
    title: 'Quarantine rules',
    one: 'quarantine rule',
    purpose: 'Records that fit are tests: they stay visible and stand in no figure.',
    columns: ['when'],
  },
  {
    name: 'record',
    title: 'Records by hand',
    one: 'record',
    purpose: 'Records taken out as tests, or put back, whatever the rules say.',
    columns: ['table', 'id', 'state'],
  },
  {
    name: 'channel',
    title: 'Channel rules',
    one: 'rule',
    purpose:
      'Asked in this order, before the shared and the built-in ones; the first that fits wins. Drag a row to move it.',
    columns: ['name', 'when'],
    ordered: true,
  },
  {
    name: 'shared_channel',
    title: 'Shared rules',
    one: 'shared rule',
    purpose:
      'Asked after the own rules. This workspace keeps its copy: a list shared elsewhere changes its figures only when you take it over.',
    columns: ['name', 'when'],
    ordered: true,
  },
  {
    name: 'legend',
    title: 'Legends',
    one: 'legend',
    purpose:
      'How a source, or arrivals that fit conditions, use the tag fields from a day on; of several the first that fits holds.',
    columns: [
      'source',
      'when',
      'from',
      'fixed',
      'utm_term',
      'utm_content',
      'utm_medium',
      'utm_campaign',
      'utm_id',
    ],
  },
  {
    name: 'rename',
    title: 'Renames and merges',
    one: 'rename',
    purpose: 'A value that is another from a day on; two renamed to one are merged. Raw values stay.',
    columns: ['field', 'old', 'new', 'from'],
  },
  {
    name: 'naming',
    title: 'Naming patterns',
    one: 'naming pattern',
    purpose: 'Parts a name is put together from; each part is a breakdown of its own.',
    columns: ['field', 'separator', 'parts'],
  },
  {
    name: 'allowed',
    title: 'Allowed words',
    one: 'list',
    purpose: 'Any other word in a link or an arrival is a finding.',
    columns: ['field', 'words'],
  },
  {
    name: 'other_cost',
    title: 'Other costs',
    one: 'cost',
    purpose: 'Fees, production, hours, messages: spread evenly over their days.',
    columns: ['campaign', 'kind', 'cost', 'currency', 'from', 'to'],
  },
  {
    name: 'click_price',
    title: 'Prices per click',
    one: 'price',
    purpose: 'Clicks that arrive through a link times its price are its estimated cost.',
    columns: ['campaign', 'source', 'medium', 'content', 'price', 'currency', 'from', 'to'],
  },
  {
    name: 'yardstick',
    title: 'Yardsticks',
    one: 'yardstick',
    purpose:
      'The rules that share a conversion among the touches before it, with their parameters. Without any here the usual eight stand under their own names; a first one is added beside them.',
    columns: ['name', 'rule', 'by', 'first', 'middle', 'last', 'half_life_days', 'channel'],
  },
  {
    name: '',
    title: 'Workspace',
    one: 'setting',
    purpose: 'Currency, zone, targets, windows, hosts and parameters.',
    columns: [],
  },
]

/** What links are built from: edited in Mark, beside what it changes. */
export const MARK_SECTIONS: Section[] = [
  {
    name: 'landing_page',
    title: 'Landing pages',
    one: 'page',
    purpose: 'Names for addresses, and the variants of split tests.',
    columns: ['name', 'address', 'kind', 'variants'],
  },
  {
    name: 'dialect',
    title: 'Dialects',
    one: 'dialect',
    purpose: 'How an ad platform writes its slots. One that arrives unfilled is read as empty.',
    columns: ['platform', 'opens', 'closes', 'landing', 'slots'],
  },
  {
    name: 'place',
    title: 'Places',
    one: 'place',
    purpose: 'Where links are put: which box takes them, what to leave alone, how long an address may be.',
    columns: ['name', 'box', 'leave', 'longest', 'asked_by', 'source', 'medium', 'cells'],
  },
  {
    name: 'store',
    title: 'Stores',
    one: 'store',
    purpose: 'Shops for apps, apps and the like, where a link ends and only clicks can be counted.',
    columns: ['host', 'scheme', 'id_in', 'id_kind'],
  },
  {
    name: 'preset',
    title: 'Presets',
    one: 'preset',
    purpose: 'Cells that fill rows of the link sheet in one go.',
    columns: ['name', 'source', 'medium', 'campaign', 'content', 'placement', 'page', 'cells'],
  },
  {
    name: 'own_slot',
    title: 'Own slots',
    one: 'slot',
    purpose: 'Slots of your own, and what they stand for in a campaign or group.',
    columns: ['slot', 'platform', 'level', 'name', 'value'],
  },
  {
    name: 'sender',
    title: 'Mail senders',
    one: 'sender',
    purpose:
      'How list, series and message come into the links of mails. Links that have tags get its own parameters alone.',
    columns: ['name', 'kind', 'source', 'medium', 'campaign', 'content', 'parameters'],
  },
]

export const ofMark = (...names: SectionName[]) =>
  names.map((name) => MARK_SECTIONS.find((s) => s.name === name)!)

const LABELS: Record<string, string> = {
  from: 'from',
  to: 'to',
  old: 'value as it came',
  new: 'is to be',
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
export const USUAL_YARDSTICKS: Record<string, unknown>[] = [
  'first',
  'last',
  'last_marked',
  'linear',
  'position',
  'decay',
  'fair_share',
  'removal',
].map((rule) => ({ name: rule, rule }))

/** Where spend comes from: edited in Gather, beside what arrives. */
export const PLATFORMS: Section = {
  name: 'platform',
  title: 'Platforms',
  one: 'platform',
  purpose:
    'Where the spend of an ad platform stands in breakdowns, what its paid arrivals are, and the zone of its days.',
  columns: ['name', 'source', 'medium', 'kind', 'levels', 'time_zone'],
}

/** Where rows come from: edited in Gather. */
export const SOURCES: Section = {
  name: 'source',
  title: 'Sources',
  one: 'source',
  purpose: 'How the files of each source are read.',
  columns: ['name', 'table'],
}
