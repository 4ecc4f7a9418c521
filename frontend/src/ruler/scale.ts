export type ScaleKind = 'per_spend' | 'money' | 'log'

export interface Scale {
  kind: ScaleKind
  /** Largest value drawn; what lies beyond stands at the edge, marked. */
  max: number
  /** Smallest value drawn, above 0 on a logarithmic scale. */
  min: number
  width: number
}

/** Where a value stands, in pixels from the left, and whether it lies beyond the right edge. */
export function place(scale: Scale, value: number): { x: number; beyond: boolean } {
  const part =
    scale.kind === 'log'
      ? Math.log(Math.max(value, scale.min) / scale.min) / Math.log(scale.max / scale.min)
      : value / scale.max
  return { x: Math.max(0, Math.min(1, part)) * scale.width, beyond: part > 1 + 1e-9 }
}

/**
 * A scale for the values of all rows. On the default scale one giant must not press all others together, so it reaches
 * to the ninth decile of the rows' highest values, and at least to twice the notch.
 */
export function makeScale(kind: ScaleKind, highest: number[], notch: number | null, width: number): Scale {
  const known = highest.filter((v) => Number.isFinite(v) && v > 0).sort((a, b) => a - b)
  const top = known.at(-1) ?? notch ?? 1
  const decile = known[Math.min(known.length - 1, Math.floor(known.length * 0.9))] ?? top
  const room = kind === 'per_spend' ? Math.max(decile, (notch ?? 0) * 2) : Math.max(top, notch ?? 0)
  const max = (room || 1) * 1.06
  const low = Math.min(...known, notch ?? Infinity)
  return { kind, max, min: kind === 'log' ? Math.min(low, max / 1000) || max / 1000 : 0, width }
}

/** Round values for the axis, about one every 90 pixels. */
export function axisTicks(scale: Scale): number[] {
  if (scale.kind === 'log') {
    const first = Math.ceil(Math.log10(scale.min))
    const last = Math.floor(Math.log10(scale.max))
    return Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => 10 ** (first + i))
  }
  const rough = scale.max / Math.max(2, Math.floor(scale.width / 90))
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = ([1, 2, 5, 10].find((m) => m * power >= rough) ?? 10) * power
  return Array.from({ length: Math.floor(scale.max / step) + 1 }, (_, i) => i * step)
}

export const STACK_PX = 6

export interface Stack<T> {
  /** Where it stands: at its first tick. */
  x: number
  beyond: boolean
  items: T[]
}

/** Ticks within six pixels of the first of them share a stack. */
export function stacks<T>(items: { item: T; x: number; beyond: boolean }[]): Stack<T>[] {
  const out: Stack<T>[] = []
  for (const tick of [...items].sort((a, b) => a.x - b.x)) {
    const last = out.at(-1)
    if (last && tick.x - last.x < STACK_PX) last.items.push(tick.item)
    else out.push({ x: tick.x, beyond: tick.beyond, items: [tick.item] })
  }
  return out
}
