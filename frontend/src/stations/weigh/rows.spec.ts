import { describe, expect, it } from 'vitest'
import type { Board, Certain, Certainty, Row } from '../../api/client'
import { bracketOf, notchOf, panelOf, rowRemark, rulerValues, saidOf, targetOf, inNames } from './rows'

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
  values: [name],
  called: name,
  found: true,
  bucket,
  campaign: '',
  spend,
  touches: 1,
  clicks: 0,
  ads: { linear: { value: value / 2, leads: 0 } },
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

  it('draws the interval of the chosen yardstick in its unit, of campaigns alone', () => {
    const one = row('a', 20_000, 500)
    const sure = {
      intervals: { linear: { roas: { low: 1.5, high: 2.5 }, leads: { low: 4, high: 6 } } },
    } as unknown as Certain
    const chosen = { ...board, yardstick: 'linear' }
    expect(bracketOf(chosen, one, sure, 'value', true)).toEqual({ low: 1.5, high: 2.5 })
    expect(bracketOf(chosen, one, sure, 'value', false)).toEqual({ low: 30_000, high: 50_000 })
    expect(bracketOf(chosen, one, sure, 'leads', true)).toEqual({ low: 20, high: 30 })
    expect(bracketOf(chosen, one, sure, 'leads', false)).toEqual({ low: 4, high: 6 })
    expect(bracketOf({ ...chosen, by: 'source' }, one, sure, 'value', true)).toEqual({ low: 1.5, high: 2.5 })
    expect(bracketOf({ ...chosen, yardstick: 'removal' }, one, sure, 'value', true)).toBeNull()
  })

  it('says the verdict of campaigns, and of a week only that it is too early', () => {
    const certainty = { mature_share: 0.9 } as Certainty
    const certain = (verdicts: Certain['verdicts'], sale: number | null) =>
      ({ verdicts, come: { sale, lead: null } }) as unknown as Certain
    const grow = {
      code: 'grow' as const,
      reason: 'it pays',
      pays: null,
      loses: null,
      flips_under: '',
      pays_up_to_click: null,
      conversions_needed: '',
    }
    const said = { code: 'grow' as const, word: 'grow', reason: 'it pays' }
    expect(saidOf(board, certainty, certain({ sale: grow }, 1), 'value')).toEqual(said)
    expect(saidOf(board, certainty, certain({ sale: grow }, 1), 'leads')).toBeNull()
    const flips = {
      ...grow,
      pays: 241,
      loses: 159,
      flips_under: 'last',
      pays_up_to_click: 2.5,
      conversions_needed: '1280',
    }
    const words = (code: 'unsure' | 'too_few' | 'too_early') =>
      saidOf(board, certainty, certain({ sale: { ...flips, code } }, 1), 'value')?.reason
    expect(words('unsure')).toBe(
      'it pays. pays in 241 of 400 redraws of the people, loses in 159; Last touch flips it; ' +
        'pays up to 2.50 AUD a click; about 1,280 conversions would settle it',
    )
    for (const code of ['too_few', 'too_early'] as const) expect(words(code)).toBe('it pays')
    const week = { ...board, by: 'week' }
    expect(saidOf(week, certainty, certain({}, 0.899), 'value')?.reason).toBe('89 % of the sales have come')
    expect(saidOf(week, certainty, certain({}, 0.9), 'value')).toBeNull()
    expect(saidOf({ ...board, by: 'channel' }, certainty, certain({}, 0.5), 'value')).toBeNull()
  })

  it('names yardsticks in reasons, and nothing else', () => {
    const codes = ['first', 'last', 'last_marked', 'linear', 'by (own)']
    expect(inNames('it pays under first, last_marked and does not under linear', codes)).toBe(
      'it pays under First touch, Last marked (last that is not direct) and does not under Linear',
    )
    expect(inNames('at last 3 sales credited under linear', codes)).toBe(
      'at last 3 sales credited under Linear',
    )
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

describe('why a row is no plain one', () => {
  it('says of whom it is that they lack a value', () => {
    const lacking = row('', null, 0, 0, 'no_value')
    expect(rowRemark(lacking, 'placement')).toBe('touches with tags, but without a placement')
    expect(rowRemark(lacking, 'product,channel')).toBe('conversions without a product')
  })
})
