import { describe, expect, it } from 'vitest'
import type { Board, Row } from '../../api/client'
import { judgement, notchOf, panelOf, rulerValues, targetOf } from './rows'

const under = (value: number, leads = 0) => ({
  value,
  leads,
  good_leads: 0,
  sales: 0,
  cost_per_lead: leads ? 1 : null,
  cost_per_sale: null,
  roas: null,
  profit: null,
})
const row = (name: string, spend: number | null, value: number, leads = 0, bucket = 'named'): Row => ({
  name,
  called: name,
  found: true,
  bucket,
  campaign: '',
  spend,
  touches: 1,
  clicks: 0,
  ads: { linear: { value: value / 2, leads: 0 } },
  linear_sales: 12,
  linear_leads: 3,
  under: { linear: under(value, leads) },
})
const board = {
  by: 'campaign',
  yardsticks: ['linear'],
  panel: ['linear'],
  minor_digits: 2,
  currency: 'AUD',
  margin: 0.5,
  break_even_roas: 2,
  target_roas: 4,
  target_cost_per_lead: 20,
} as unknown as Board

describe('the unit of the ruler', () => {
  it('puts every break-even notch on one line per unit of spend', () => {
    expect(notchOf(board, row('a', 1000, 0), 'value', true)).toBe(2)
    expect(notchOf(board, row('b', 9000, 0), 'value', true)).toBe(2)
    expect(notchOf(board, row('b', 9000, 0), 'value', false)).toBe(18_000)
    expect(notchOf(board, row('a', 1000, 0), 'leads', true)).toBe(50)
  })

  it('breaks even on leads at spend over the target cost per lead', () => {
    expect(notchOf(board, row('a', 10_000, 0), 'leads', false)).toBe(5)
    expect(notchOf({ ...board, target_cost_per_lead: null }, row('a', 1, 0), 'leads', true)).toBeNull()
  })

  it('judges campaigns alone, and none with too few conversions', () => {
    const one = row('a', 100, 500)
    const judged = { ...board, by: 'campaign', verdict_minimum: 10 }
    expect(judgement(judged, one, 'value', [5], 2)).toBe('pays')
    expect(judgement(judged, one, 'leads', [5], 2)).toBe('few')
    expect(judgement({ ...judged, verdict_minimum: 13 }, one, 'value', [5], 2)).toBe('few')
    expect(judgement({ ...judged, by: 'week' }, one, 'value', [5], 2)).toBe('unknown')
  })

  it('draws what the ads alone earned in rows that are no campaign', () => {
    const one = row('2026-W01', 100, 500)
    expect(rulerValues({ ...board, by: 'campaign' }, ['linear'], one, 'value', true)[0]!.value).toBe(5)
    expect(rulerValues({ ...board, by: 'week' }, ['linear'], one, 'value', true)[0]!.value).toBe(2.5)
  })

  it('draws the picked yardsticks, else those of the plan, and always the chosen one', () => {
    const many = { ...board, yardsticks: ['first', 'last', 'decay'], panel: ['last'], yardstick: 'first' }
    expect(panelOf(many, [])).toEqual(['first', 'last'])
    expect(panelOf(many, ['decay'])).toEqual(['first', 'decay'])
  })

  it('has no figure per unit of spend where nothing was spent', () => {
    expect(rulerValues(board, ['linear'], row('a', 0, 500), 'value', true)).toEqual([])
    expect(rulerValues(board, ['linear'], row('a', 200, 500), 'value', true)[0]!.value).toBe(2.5)
    expect(targetOf(board, row('a', 200, 500), 'value', false)).toBe(800)
  })
})
