import { describe, expect, it } from 'vitest'
import { count, credit, instant, money, moneyWithUnit, ratio, share, yardstickName } from './format'

describe('figures', () => {
  it('of money have the decimals of their currency', () => {
    expect(money(45_257, 2)).toBe('452.57')
    expect(money(-5, 2)).toBe('-0.05')
    expect(money(1_234_567, 0)).toBe('1,234,567')
    expect(money(1_234_567, 3)).toBe('1,234.567')
    expect(moneyWithUnit(100, 2, 'AUD')).toBe('1.00\u202fAUD')
  })

  it('of one kind have the same number of decimals', () => {
    expect([credit(1), credit(0.05), credit(1234.5)]).toEqual(['1.0', '0.1', '1,234.5'])
    expect([ratio(3), ratio(0.333)]).toEqual(['3.00', '0.33'])
    expect(count(60_000)).toBe('60,000')
    expect(share(1 / 3)).toBe('33.3\u202f%')
  })
})

describe('an instant', () => {
  it('is written in the zone of the workspace, half hours and clock changes too', () => {
    expect(instant('2026-03-06T07:30:00Z', 'Australia/Adelaide')).toBe('2026-03-06 18:00')
    expect(instant('2026-04-04T16:00:00Z', 'Australia/Adelaide')).toBe('2026-04-05 02:30')
    expect(instant('2026-04-04T16:30:00Z', 'Australia/Adelaide')).toBe('2026-04-05 02:00')
  })

  it('at midnight is the beginning of a day', () => {
    expect(instant('2026-03-05T13:30:00Z', 'Australia/Adelaide')).toBe('2026-03-06 00:00')
  })
})

it('own yardsticks keep their names', () => {
  expect(yardstickName('last_marked')).toBe('Last marked (last that is not direct)')
  expect(yardstickName('by channel')).toBe('by channel')
})
