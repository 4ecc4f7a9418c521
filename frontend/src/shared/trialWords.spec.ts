import { describe, expect, it } from 'vitest'
import type { Trial } from './trial'
import { trialWords } from './trialWords'

const trial = (more: Partial<Trial>) =>
  ({
    ...{
      state: 's',
      moves: true,
      by: 'campaign',
      yardstick: 'linear',
      value: 0,
      spend: 0,
      leads: 0,
      sales: 0,
    },
    ...{ moved: 0, elsewhere: 0, rows: [], renamed: [], turns: [], yardsticks_gone: [], yardsticks_come: [] },
    ...{ still_one: [], records: 0, quarantined: 0, was_currency: 'AUD', currency: 'AUD', minor_digits: 2 },
    ...more,
  }) as Trial

describe('what an edit would move', () => {
  it.each([
    [{ quarantined: 3, records: -2, leads: 2 }, 'Leads moved 2, 3 rows quarantined'],
    [{ quarantined: -1, records: 1, leads: 1 }, 'Leads moved 1, 1 row put back'],
    [{ records: -1, leads: 1 }, 'Leads moved 1, 1 record counts no more'],
    [{ records: 2, leads: 2 }, 'Leads moved 2, 2 more records count'],
    [{}, 'The line under the board moves'],
  ])('%j: %s', (more, words) => {
    expect(trialWords(trial(more as Partial<Trial>)).replaceAll('.0', '')).toBe(words)
  })

  it('names what keeps two identifiers one person', () => {
    const row = { table: 'leads', id: 'l2', at: '', file: 'leads.csv', line: 3 }
    const still = [{ first: 'visitor_id:D', second: 'email:d@x.example', rows: [row] }]
    expect(trialWords(trial({ still_one: still }))).toBe(
      'Visitor_id:D and email:d...@x.example stay one person by leads.csv 3',
    )
  })
})
