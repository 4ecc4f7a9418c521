/** The geometry of the sheet, apart from how it is drawn. */

export interface Cell {
  row: number
  column: number
}

export interface Range {
  top: number
  bottom: number
  left: number
  right: number
}

/** The rectangle between two cells, both inside. */
export const rangeOf = (a: Cell, b: Cell): Range => ({
  top: Math.min(a.row, b.row),
  bottom: Math.max(a.row, b.row),
  left: Math.min(a.column, b.column),
  right: Math.max(a.column, b.column),
})

export const inside = (range: Range, row: number, column: number): boolean =>
  row >= range.top && row <= range.bottom && column >= range.left && column <= range.right

/** A step inside a grid that ends at its edges. */
export const step = (cell: Cell, rows: number, columns: number, down: number, right: number): Cell => ({
  row: Math.max(0, Math.min(rows - 1, cell.row + down)),
  column: Math.max(0, Math.min(columns - 1, cell.column + right)),
})

/** What one direction of multiplying may be: each entry fills some cells. */
export type Axis = Record<string, string>[]

/** Every combination of axes, the last one changing fastest; an empty one leaves its place alone. */
export function combinations(axes: Axis[]): Record<string, string>[] {
  let out: Record<string, string>[] = [{}]
  for (const axis of axes) {
    if (axis.length) out = out.flatMap((made) => axis.map((cells) => ({ ...made, ...cells })))
  }
  return out
}
