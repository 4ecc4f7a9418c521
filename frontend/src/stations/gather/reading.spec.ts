import { describe, expect, it } from 'vitest'
import { answered, goesTo, moneyOf, sent, unfilled, type Reading, type TableColumn } from './reading'

const READING = { name: 'r', table: 'spend', columns: { day: 'Datum', cost: 'Kosten' } } as unknown as Reading
const asked = (field: string, options: string[] = []) => ({ field, options, text: '', line: 0 })

describe('a reading', () => {
  it('takes the answer to a question where it belongs', () => {
    expect(answered(READING, asked('date'), 'day month year').date).toBe('day month year')
    expect(answered(READING, asked('constant.platform'), 'Quorrin').constant).toEqual({ platform: 'Quorrin' })
    expect(answered(READING, asked('columns.clicks'), 'Klicks').columns).toEqual({
      day: 'Datum',
      cost: 'Kosten',
      clicks: 'Klicks',
    })
    expect(answered(READING, asked('decimal', [',', '.']), ',')).toMatchObject({
      decimal: ',',
      thousands: '.',
    })
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
