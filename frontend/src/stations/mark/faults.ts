import type { Schemas } from '../../api/client'

type Checked = Schemas['Checked']

/** Faults in a few words, as a group of addresses is headed by them. */
const TITLES: Record<string, string> = {
  not_an_address: 'no address',
  login_in_host: 'a login before the host',
  tags_after_fragment: 'tags after #',
  second_question_mark: 'more than one ?',
  target_inside: 'another address inside, not encoded',
  no_question_mark: 'no ? before the tags',
  wrong_separator: '; in place of &',
  no_equals: 'no = after a tag',
  split_value: 'a value cut by its own &',
  html_entity: '&amp; in place of &',
  raw_character: 'a character that must be encoded',
  bad_encoding: 'broken encoding',
  doubly_encoded: 'encoded twice',
  mojibake: 'read in another encoding once',
  misspelt_name: 'a tag mistyped',
  wrong_case_name: 'a tag in capitals',
  repeated_name: 'a parameter twice',
  empty_value: 'an empty tag',
  edge_space: 'a space at an edge',
  placeholder: 'a word for nothing',
  missing_required: 'a tag missing',
  unfilled_slot: 'a slot that nobody filled',
  slot_inside: 'a slot inside a value',
  slot_in_path: 'a slot in the path',
  half_slot: 'half a slot',
  unknown_slot: 'a slot that the platform does not know',
  other_spelling: 'written otherwise elsewhere',
  near_miss: 'almost a known name',
  perhaps_meant: 'perhaps another was meant',
  another_name: 'a new name',
  not_allowed: 'a word that is not allowed',
  naming_pattern: 'not in the naming pattern',
  value_spelling: 'not in the wanted spelling',
  unknown_campaign: 'a campaign that nobody planned',
  campaign_ended: 'a campaign that has ended',
  personal_data: 'personal data',
  own_as_outside: 'our own site as the source',
  foreign_host: 'another host',
  wrong_host: "another host than its campaign's",
  international_host: 'a host in other letters',
  no_path: 'no / behind the host',
  too_long: 'too long',
  no_address: 'no address at all',
  untagged: 'a pattern without a tag',
  ad_without_pattern: 'neither pattern nor tag',
  foreign_slot: 'a slot of another platform',
  slot_level: 'a slot that does not work at its level',
  other_host: 'another host',
  level_overrides: 'a nearer level that overrides',
}
const LEVELS = ['error', 'warning', 'note', '']

export interface Group {
  code: string
  title: string
  level: string
  all: number
  found: Checked[]
}

/** A fault in a few words. */
export const titleOf = (code: string): string =>
  code ? (TITLES[code] ?? code.replaceAll('_', ' ')) : 'nothing wrong'

/** Addresses by their worst fault: those that break first, then by how many have it; at most so many of each. */
export function grouped(found: readonly Checked[], most: number): Group[] {
  const by = new Map<string, Group>()
  for (const one of found) {
    const worst = one.findings[0]
    const code = worst?.code ?? ''
    const group = by.get(code) ?? {
      code,
      title: titleOf(code),
      level: worst?.level ?? '',
      all: 0,
      found: [],
    }
    group.all++
    if (group.found.length < most) group.found.push(one)
    by.set(code, group)
  }
  return [...by.values()].sort((a, b) => LEVELS.indexOf(a.level) - LEVELS.indexOf(b.level) || b.all - a.all)
}

/** An address around the part that a fault is about; without any such part it stands whole before. */
export function cutAt(one: Pick<Checked, 'url' | 'findings'>, code: string) {
  const fault = one.findings.find((f) => f.code === code)
  const written = [fault?.value, fault?.value && encodeURIComponent(fault.value), fault?.field]
  for (const part of written) {
    const at = part ? one.url.indexOf(part) : -1
    if (part && at >= 0) {
      // Of what stands before only its end is needed to see where it is.
      const before = at > 60 ? `…${one.url.slice(at - 40, at)}` : one.url.slice(0, at)
      return { before, fault: part, after: one.url.slice(at + part.length) }
    }
  }
  return { before: one.url, fault: '', after: '' }
}
