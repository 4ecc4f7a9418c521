import { describe, expect, it } from 'vitest'
import { cutAt, grouped } from './faults'

const finding = (code: string, level: string, value = '', field = '') => ({
  code,
  level,
  value,
  field,
  message: code,
})
const checked = (url: string, ...findings: ReturnType<typeof finding>[]) => ({
  url,
  findings,
  base: url,
  parameters: [],
  mended: url,
  stripped: url,
})

describe('addresses by fault', () => {
  it('stand with those that break first, then by how many have it, each under its worst', () => {
    const found = [
      checked('a'),
      checked('b', finding('edge_space', 'note')),
      checked('c', finding('edge_space', 'note')),
      checked('d', finding('no_path', 'note')),
      checked('e', finding('no_equals', 'error'), finding('edge_space', 'note')),
    ]
    expect(grouped(found, 1).map((g) => [g.code, g.all, g.found.length])).toEqual([
      ['no_equals', 1, 1],
      ['edge_space', 2, 1],
      ['no_path', 1, 1],
      ['', 1, 1],
    ])
    expect(grouped(found, 9)[3]!.title).toBe('nothing wrong')
  })

  it('are cut to the faulty part', () => {
    const url = 'https://www.lunnick.example/boats?utm_source=a%20b&utm_term=x'
    const at = (value: string, field = '') => cutAt(checked(url, finding('f', 'error', value, field)), 'f')
    expect(at('a b')).toEqual({
      before: 'https://www.lunnick.example/boats?utm_source=',
      fault: 'a%20b',
      after: '&utm_term=x',
    })
    expect(at('none', 'utm_term').fault).toBe('utm_term')
    expect(at('none')).toEqual({ before: url, fault: '', after: '' })
    const far = `https://www.lunnick.example/${'x'.repeat(90)}?utm_term=odd`
    expect(cutAt(checked(far, finding('f', 'error', 'odd')), 'f').before).toHaveLength(41)
  })
})
