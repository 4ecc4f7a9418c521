import { describe, expect, it } from 'vitest'
import { plusDays, stepPeriod, today } from './days'

describe('days', () => {
  it('go over months, leap days and the change of clocks', () => {
    expect(plusDays('2026-02-28', 1)).toBe('2026-03-01')
    expect(plusDays('2028-02-28', 1)).toBe('2028-02-29')
    expect(plusDays('2026-04-05', -1)).toBe('2026-04-04')
    expect(plusDays('2026-01-01', -1)).toBe('2025-12-31')
  })

  it('today is that of the zone, not of the machine', () => {
    expect(today('Pacific/Kiritimati') >= today('Pacific/Pago_Pago')).toBe(true)
    expect(today('UTC')).toBe(new Date().toISOString().slice(0, 10))
  })
})

describe('a period', () => {
  it('of whole months steps by months, however long they are', () => {
    expect(stepPeriod('2026-03-01', '2026-03-31', -1)).toEqual({ from: '2026-02-01', to: '2026-02-28' })
    expect(stepPeriod('2026-01-01', '2026-03-31', 1)).toEqual({ from: '2026-04-01', to: '2026-06-30' })
    expect(stepPeriod('2028-02-01', '2028-02-29', 1)).toEqual({ from: '2028-03-01', to: '2028-03-31' })
  })

  it('of anything else steps by its own length', () => {
    expect(stepPeriod('2026-03-02', '2026-03-08', 1)).toEqual({ from: '2026-03-09', to: '2026-03-15' })
    expect(stepPeriod('2026-03-02', '2026-03-02', -1)).toEqual({ from: '2026-03-01', to: '2026-03-01' })
    expect(stepPeriod('2026-03-01', '2026-03-30', -1)).toEqual({ from: '2026-01-30', to: '2026-02-28' })
  })

  it('comes back where it was', () => {
    const there = stepPeriod('2025-09-01', '2025-11-30', 1)
    expect(stepPeriod(there.from, there.to, -1)).toEqual({ from: '2025-09-01', to: '2025-11-30' })
  })
})
