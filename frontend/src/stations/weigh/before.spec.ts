import { describe, expect, it } from 'vitest'
import type { Board, Row } from '../../api/client'
import { movedOf, timeBefore } from './before'

const row = (name: string, spend: number, value: number): Row => ({
  name,
  values: [name],
  called: name,
  found: true,
  bucket: 'named',
  campaign: '',
  spend,
  touches: 1,
  clicks: 0,
  ads: {},
  under: { linear: { value, leads: 0, sales: 0 } },
})
const board = (from: string, to: string, rows: Row[]) =>
  ({
    by: 'campaign',
    yardstick: 'linear',
    yardsticks: ['linear'],
    minor_digits: 2,
    currency: 'AUD',
    report_from: from,
    report_to: to,
    first_day: '2026-01-05',
    last_day: '2026-06-30',
    rows,
  }) as unknown as Board

describe('the time before', () => {
  it('is the month before of a month, else as many days', () => {
    expect(timeBefore(board('2026-03-01', '2026-03-31', []))).toEqual({
      from: '2026-02-01',
      to: '2026-02-28',
    })
    expect(timeBefore(board('2026-03-08', '2026-03-14', []))).toEqual({
      from: '2026-03-01',
      to: '2026-03-07',
    })
  })

  it('is not where no data reach back to it', () => {
    expect(timeBefore(board('2026-01-05', '2026-01-11', []))).toBeNull()
  })
})

describe('how far a row moved', () => {
  const march = board('2026-03-01', '2026-03-31', [row('Boats', 100_00, 300_00), row('New', 10_00, 10_00)])
  const february = board('2026-02-01', '2026-02-28', [row('Boats', 50_00, 200_00)])

  it('is told per unit of spend whatever the lengths', () => {
    const moved = movedOf(march, february, 'value', true, false)
    expect(moved.get('named\u001fBoats')).toMatchObject({ before: 4, text: '\u221225\u202f%' })
    expect(moved.get('named\u001fNew')).toMatchObject({ before: null, text: '–' })
  })

  it('is not divided in money where the lengths differ, and says so', () => {
    const moved = movedOf(march, february, 'value', false, false).get('named\u001fBoats')
    expect(moved).toEqual({ before: null, text: '31 : 28 d', says: '31 days against 28: not compared' })
  })

  it('is too early where too little has come', () => {
    expect(movedOf(march, february, 'value', true, true).get('named\u001fBoats')?.text).toBe('too early')
  })
})
