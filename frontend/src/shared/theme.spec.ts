import { describe, expect, it } from 'vitest'
import { night, paper } from './theme'

/** Contrast ratio of WCAG 2.2, from relative luminance. */
function contrast(a: string, b: string): number {
  const light = (hex: string) => {
    const [r, g, b] = [1, 3, 5].map((i) => {
      const c = parseInt(hex.slice(i, i + 2), 16) / 255
      return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
    })
    return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!
  }
  const [dark, bright] = [light(a), light(b)].sort((x, y) => x - y)
  return (bright! + 0.05) / (dark! + 0.05)
}

describe.each(Object.entries({ paper, night }))('the theme %s', (_, { colors }) => {
  it.each(['ink', 'accent-text', 'pays', 'loses', 'unsure'] as const)(
    'has %s readable on both grounds',
    (role) => {
      expect(contrast(colors[role], colors.background)).toBeGreaterThanOrEqual(4.5)
      expect(contrast(colors[role], colors.surface)).toBeGreaterThanOrEqual(4.5)
    },
  )
  it('has readable buttons', () => {
    expect(contrast(colors['on-primary'], colors.primary)).toBeGreaterThanOrEqual(4.5)
  })
})
