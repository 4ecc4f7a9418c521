import { describe, expect, it } from 'vitest'
import { axisTicks, makeScale, place, stacks } from './scale'

describe('the scale', () => {
  it('stands zero at the left edge and the largest value inside the right one', () => {
    const scale = makeScale('money', [10, 20], 5, 200)
    expect(place(scale, 0).x).toBe(0)
    expect(place(scale, 20).x).toBeGreaterThan(180)
    expect(place(scale, 20).beyond).toBe(false)
  })

  it('lets one giant stand at the edge, marked, so that the others keep their room', () => {
    const scale = makeScale(
      'per_spend',
      [1, 1, 1, 1, 1, 1, 1, 1, 1, 2, 90].concat([2, 2, 2, 2, 2, 2, 2, 2, 2]),
      2,
      300,
    )
    expect(place(scale, 90)).toEqual({ x: 300, beyond: true })
    expect(place(scale, 2).x).toBeGreaterThan(100)
  })

  it('gives equal ratios equal lengths when logarithmic', () => {
    const scale = makeScale('log', [0.1, 1, 100], 1, 300)
    const step = place(scale, 10).x - place(scale, 1).x
    expect(place(scale, 100).x - place(scale, 10).x).toBeCloseTo(step)
  })

  it('survives rows without any figure', () => {
    const scale = makeScale('per_spend', [], null, 100)
    expect(place(scale, 0).x).toBe(0)
    expect(axisTicks(scale).length).toBeGreaterThan(0)
  })

  it('puts round values on the axis', () => {
    expect(axisTicks({ kind: 'money', max: 10, min: 0, width: 400 })).toEqual([0, 5, 10])
    expect(axisTicks({ kind: 'log', max: 200, min: 0.5, width: 400 })).toEqual([1, 10, 100])
  })
})

describe('stacks', () => {
  it('hold ticks closer than six pixels to their first, and no others', () => {
    const at = (x: number) => ({ item: x, x, beyond: false })
    expect(stacks([at(30), at(0), at(4), at(5.9), at(12)]).map((s) => s.items)).toEqual([
      [0, 4, 5.9],
      [12],
      [30],
    ])
  })
})
