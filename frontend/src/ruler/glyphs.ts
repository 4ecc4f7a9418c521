/**
 * One shape a yardstick, told apart without colour. Paths are drawn about 0,0, the line of the ruler; the point that
 * counts is at x = 0.
 */
const SHAPES: Record<string, string> = {
  first: 'M0,-6 V6 M0,-6 L-5,-3 L0,0',
  last: 'M0,-6 V6 M0,-6 L5,-3 L0,0',
  last_marked: 'M0,-5 L4,0 L0,5 L-4,0 Z',
  linear: 'M0,-6 V6',
  position: 'M-5,-5 V5 M5,-5 V5 M-5,0 H5',
  decay: 'M-6,5 L6,5 L6,-5 Z',
  removal: 'M-5,-5 L5,5 M-5,5 L-1,1 M1,-1 L5,-5',
  fair_share: 'M-4,0 a4,4 0 1 0 8,0 a4,4 0 1 0 -8,0',
}
const OTHERS = ['M-4,-4 H4 V4 H-4 Z', 'M-4,4 L0,-4 L4,4 Z', 'M-4,-4 L4,4 M-4,4 L4,-4', 'M-4,0 H4 M0,-4 V4']

/** The shape of a yardstick: known rules have their own, others take the next free one. */
export function glyph(name: string, names: readonly string[]): string {
  const own = names.filter((n) => !(n in SHAPES))
  return SHAPES[name] ?? OTHERS[own.indexOf(name) % OTHERS.length] ?? OTHERS[0]!
}
