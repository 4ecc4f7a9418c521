import { describe, expect, it } from 'vitest'
import { matches, moved, shown, renaming } from './records'
import { SECTIONS, headOf, labelOf } from './sections'

describe('a record', () => {
  it('is shown on one line, whatever its values are', () => {
    expect(shown(null)).toBe('')
    expect(shown(true)).toBe('yes')
    expect(shown(['a', 'b'])).toBe('a, b')
    expect(
      shown([
        { field: 'source', op: 'is', value: 'quorrin' },
        { field: 'medium', op: 'is empty' },
      ]),
    ).toBe('source is quorrin; medium is empty')
    expect(shown({ click_days: '30', view_days: null })).toBe('30')
  })

  it('is found by any of its values, whatever the case', () => {
    const record = { name: 'Spring Whale Boats', ids: ['q-101'], when: [{ value: 'Ostrel' }] }
    expect(matches(record, '')).toBe(true)
    expect(matches(record, 'WHALE')).toBe(true)
    expect(matches(record, 'q-10')).toBe(true)
    expect(matches(record, 'ostrel')).toBe(true)
    expect(matches(record, 'pier')).toBe(false)
  })

  it('moves in its list without another being lost', () => {
    const list = ['a', 'b', 'c', 'd']
    expect(moved(list, 0, 2)).toEqual(['b', 'c', 'a', 'd'])
    expect(moved(list, 3, 0)).toEqual(['d', 'a', 'b', 'c'])
    expect(moved(list, 1, 1)).toEqual(list)
    expect(list).toEqual(['a', 'b', 'c', 'd'])
  })
})

describe('the sections', () => {
  it('have names and purposes of their own', () => {
    for (const what of ['name', 'title', 'one', 'purpose'] as const)
      expect(new Set(SECTIONS.map((s) => s[what])).size).toBe(SECTIONS.length)
  })

  it('name fields in words, and parameters as they are written', () => {
    expect(labelOf('plain_name')).toBe('plain name')
    expect(headOf('plain_name')).toBe('Plain name')
    expect(headOf('utm_term')).toBe('utm_term')
    expect(headOf('old')).toBe('Value as it came')
  })
})

describe('what follows a rename', () => {
  it('says who follows, and that addresses outside still find it', () => {
    expect(renaming('campaign', { name: 'Whale Boats' }, { name: 'Opener' })).toBe(
      'All that names it follows; addresses and files outside that say Whale Boats still find it.',
    )
    expect(renaming('place', { name: 'Feed' }, { name: 'First feed' })).toBe('All that names it follows.')
    expect(renaming('campaign', { name: 'Whale Boats' }, { name: 'Whale Boats', code: 'x' })).toBe('')
    expect(renaming('status', { name: 'a' }, { name: 'b' })).toBe('')
  })
})
