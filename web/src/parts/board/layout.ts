// Where the blocks of a board lie: lanes below each other, time to the right. Blocks of a
// lane that would lie over each other go into rows below each other. Nothing here draws.

export type Span = {
  id: string
  lane: string
  /** Milliseconds since the epoch; tail is up to when it may last. */
  from: number
  to: number
  tail?: number
}

export type Lane = { name: string; y: number; height: number }

/** Pixels; tail is the width of what is uncertain, behind the block. */
export type Place = { x: number; y: number; width: number; tail: number }

export type Sizes = {
  /** Where the lanes begin, and where time begins and ends. */
  top: number
  left: number
  right: number
  /** The height there is, of which the rows share what they need. */
  room: number
  leastRow: number
  mostRow: number
  /** The least width of a block: what is written on it has to be read. */
  least: number
  gap: number
}

export type Layout = { lanes: Lane[]; places: Map<string, Place>; row: number; height: number }

/** Lays spans out in lanes; x tells where a time lies. */
export function layOut(spans: Span[], lanes: string[], x: (time: number) => number, sizes: Sizes): Layout {
  const packed = lanes.map((name) =>
    pack(
      spans.filter((s) => s.lane === name),
      x,
      sizes,
    ),
  )
  const rows = packed.map((p) => Math.max(1, p.rows))
  const all = rows.reduce((sum, n) => sum + n, 0)
  const fair = Math.floor((sizes.room - sizes.top) / Math.max(1, all))
  const row = Math.min(sizes.mostRow, Math.max(sizes.leastRow, fair))
  const places = new Map<string, Place>()
  let y = sizes.top
  const laid = lanes.map((name, i) => {
    const lane = { name, y, height: (rows[i] ?? 1) * row }
    for (const { id, at, ...place } of packed[i]?.places ?? []) {
      places.set(id, { ...place, y: y + at * row + sizes.gap / 2 })
    }
    y += lane.height
    return lane
  })
  return { lanes: laid, places, row, height: y }
}

type Packed = { rows: number; places: { id: string; at: number; x: number; width: number; tail: number }[] }

/** Each span in the first row in which it lies over none before it. */
function pack(spans: Span[], x: (time: number) => number, { left, right, least, gap }: Sizes): Packed {
  const ends: number[] = []
  const places = [...spans]
    .sort((a, b) => a.from - b.from || a.to - b.to || (a.id < b.id ? -1 : 1))
    .map(({ id, from, to, tail = to }) => {
      const begin = Math.min(Math.max(left, x(from)), right - least)
      const width = Math.max(least, Math.min(right, x(to)) - begin)
      const rest = Math.max(0, Math.min(right, x(tail)) - begin - width)
      const free = ends.findIndex((end) => end + gap <= begin)
      const at = free < 0 ? ends.length : free
      ends[at] = begin + width + rest
      return { id, at, x: begin, width, tail: rest }
    })
  return { rows: ends.length, places }
}

/** The lane above or below one; the one itself at either end. */
export function nextLane(lanes: Lane[], name: string, by: 1 | -1): Lane | undefined {
  const at = lanes.findIndex((l) => l.name === name)
  return lanes[Math.min(lanes.length - 1, Math.max(0, at + by))]
}
