import { describe, expect, it } from 'vitest'
import { goesTo, moneyOf, openOf, saidOf, sent, unfilled, type Reading, type TableColumn } from './reading'

const READING = { name: 'r', table: 'spend', columns: { day: 'Datum', cost: 'Kosten' } } as unknown as Reading
const question = (field: string, answer = '') => ({
  field,
  options: [],
  text: '',
  line: 0,
  answer,
  hints: [],
  free: false,
})

describe('a reading', () => {
  it('holds a file back by questions that nobody has answered, and by no other', () => {
    const questions = [question('date'), question('sums', 'leave out')]
    expect(openOf(questions).map((q) => q.field)).toEqual(['date'])
    expect(saidOf(questions).map((q) => q.field)).toEqual(['sums'])
  })

  it('sends a column of the file to one place alone', () => {
    expect(goesTo(READING, 'kosten')).toBe('cost')
    expect(sent(READING, 'Kosten', 'campaign').columns).toEqual({ day: 'Datum', campaign: 'Kosten' })
    expect(sent(READING, 'Preis', 'cost').columns).toEqual({ day: 'Datum', cost: 'Preis' })
    expect(sent(READING, 'Datum', '').columns).toEqual({ cost: 'Kosten' })
    const ours = { ...READING, columns: { cost: 'Cost' } }
    expect(sent(ours, 'Cost', '').columns).toEqual({ cost: '' })
  })

  it('asks for what must be there and for what exports leave out', () => {
    const columns = ['day', 'platform', 'account', 'campaign', 'cost'].map((name) => ({
      name,
      kind: 'text',
      required: name !== 'account' && name !== 'cost',
    })) as TableColumn[]
    expect(unfilled(READING, columns).map((c) => c.name)).toEqual(['platform', 'account', 'campaign'])
  })

  it('shows money to the cent', () => {
    expect(
      moneyOf(
        [
          { currency: '', amount: '1234.5' },
          { currency: 'NZD', amount: '12' },
        ],
        'AUD',
      ),
    ).toBe('1,234.50 AUD, 12.00 NZD')
  })
})
