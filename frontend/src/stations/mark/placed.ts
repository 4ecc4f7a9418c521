import type { Schemas } from '../../api/client'
import { LINK_STATE_WORDS } from '../../api/declared'

type Placed = Schemas['PlacedLink']

/** What stands on a line of the list: the head of a group with one fault, or a link. */
export type Line = { head: string; fault: string } | { link: Placed }

/** A state in words; of a quiet link since when. */
export const stateOf = (link: Placed) =>
  link.state === 'quiet' && link.last ? `quiet since ${link.last}` : LINK_STATE_WORDS[link.state]

/** What tells this link from the others of its campaign. */
export function toldOf(link: Placed): string {
  const tags = new URLSearchParams(link.url.split('#')[0]!.split('?')[1] ?? '')
  return tags.get('utm_content') || tags.get('utm_term') || ''
}

/** What is read out of a link. */
export const saysOf = (link: Placed) =>
  [
    [link.campaign, toldOf(link)].filter(Boolean).join(' · '),
    link.draft ? 'its campaign is a draft, not to be placed' : '',
    link.placed_on ? `placed on ${link.placed_on}` : '',
    link.verdict,
  ]
    .filter(Boolean)
    .join('; ')
