import { describe, expect, it } from 'vitest'
import { decided } from './useByHand'

const L7 = { table: 'leads', id: 'L-7' } as const
const OTHER = { table: 'leads', id: 'L-8', state: 'counted' }

describe('a record decided by hand', () => {
  it('is taken out, and putting it back leaves the list as it was', () => {
    const out = decided([OTHER], L7, true)
    expect(out).toEqual([OTHER, { ...L7, state: 'quarantined' }])
    expect(decided(out, L7, false)).toEqual([OTHER])
  })

  it('that a rule takes out is counted against the rule, and taking it out again leaves it to the rule', () => {
    const counted = decided([], L7, false)
    expect(counted).toEqual([{ ...L7, state: 'counted' }])
    expect(decided(counted, L7, true)).toEqual([])
  })

  it('is named once, whatever was decided before', () => {
    expect(decided([{ ...L7, state: 'quarantined' }], L7, true)).toEqual([{ ...L7, state: 'quarantined' }])
  })

  it('of another table with the same id is another record', () => {
    expect(decided([{ ...L7, table: 'conversions', state: 'quarantined' }], L7, true)).toHaveLength(2)
  })
})
