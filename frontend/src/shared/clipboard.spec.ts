import { describe, expect, it } from 'vitest'
import { asText, fromClipboard, toClipboard } from './clipboard'

describe('the clipboard', () => {
  it('gives back what was copied, tabs, lines and quotes inside cells too', () => {
    const cells = [
      ['a', 'b "c"', ''],
      ['d\te', 'f\ng', '"'],
    ]
    expect(fromClipboard(toClipboard(cells))).toEqual(cells)
  })
  it('reads what spreadsheets write, with their line ends', () => {
    expect(fromClipboard('a\tb\r\nc\td\r\n')).toEqual([
      ['a', 'b'],
      ['c', 'd'],
    ])
    expect(fromClipboard('5" pipe\tx')).toEqual([['5" pipe', 'x']])
  })
  it('runs nothing of what is text', () => {
    expect(asText('=1+1')).toBe("'=1+1")
    expect(asText('Whale = boats')).toBe('Whale = boats')
  })
})
