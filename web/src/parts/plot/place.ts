// Where the names on a drawing stand: measured, each at the first of the places it may
// have that touches nothing, and beside the drawing where there is none.

export type Point = readonly [number, number]
export type Box = { left: number; top: number; right: number; bottom: number }

/** A place a name may have: where its baseline begins, ends or has its middle, and how it
 * is turned, in degrees. */
export type Spot = { x: number; y: number; anchor: 'start' | 'middle' | 'end'; turn?: number }

export type Name = {
  /** A figure that stands before the words; bold, or light as on an axis. */
  figure?: string
  light?: boolean
  text: string
  tone?: string
  spots: Spot[]
}
export type Placed = Name & { at: Spot | null }

export type Sized = { width: number; height: number }

/** Room around a name, in pixels. */
const room = 2

/** Places names in their order among what must not be touched, within a frame. */
export function placeNames(names: Name[], taken: Box[], frame: Box, measure: (name: Name) => Sized): Placed[] {
  const boxes = [...taken]
  return names.map((name) => {
    const size = measure(name)
    const at = name.spots.find((spot) => {
      const own = boxesOf(spot, size)
      return own.every((b) => within(b, frame) && !boxes.some((other) => touch(b, other)))
    })
    if (at) boxes.push(...boxesOf(at, size))
    return { ...name, at: at ?? null }
  })
}

/** The boxes a name takes up: one, or a row of small ones where it is turned. */
function boxesOf(spot: Spot, { width, height }: Sized): Box[] {
  const before = spot.anchor === 'end' ? width : spot.anchor === 'middle' ? width / 2 : 0
  const angle = ((spot.turn ?? 0) * Math.PI) / 180
  const pieces = angle === 0 ? 1 : Math.max(1, Math.ceil(width / height))
  const piece = width / pieces
  return Array.from({ length: pieces }, (_, i) => {
    const [from, to] = [i * piece - before, (i + 1) * piece - before]
    const corners = [
      [from, -0.8 * height],
      [to, -0.8 * height],
      [from, 0.2 * height],
      [to, 0.2 * height],
    ].map(([a = 0, b = 0]): Point => [
      spot.x + a * Math.cos(angle) - b * Math.sin(angle),
      spot.y + a * Math.sin(angle) + b * Math.cos(angle),
    ])
    return around(corners, room)
  })
}

/** The box around some points, with room around it. */
export function around(points: readonly Point[], by: number): Box {
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])]
  return {
    left: Math.min(...xs) - by,
    top: Math.min(...ys) - by,
    right: Math.max(...xs) + by,
    bottom: Math.max(...ys) + by,
  }
}

/** What a line takes up: small boxes along it. */
export function lineBoxes(points: readonly Point[], by = 1.5): Box[] {
  const boxes: Box[] = []
  points.slice(1).forEach((to, i) => {
    const from = points[i]
    if (!from) return
    const steps = Math.max(1, Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1]) / 8))
    for (let k = 0; k < steps; k++) {
      const at = (share: number): Point => [from[0] + (to[0] - from[0]) * share, from[1] + (to[1] - from[1]) * share]
      boxes.push(around([at(k / steps), at((k + 1) / steps)], by))
    }
  })
  return boxes
}

/** Places along a line, over it and under it, from its middle outwards; turned with it, or
 * level, farther away where it is steep. */
export function spotsAlong(points: readonly Point[], height: number, turned = true): Spot[] {
  const last = points.length - 1
  if (last < 1) return points.flatMap((p) => spotsBeside(p, height))
  const shares = [0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8, 0.1, 0.9]
  const gaps = turned ? [0.55, 1] : [0.6, 1.1, 1.8, 2.6]
  const spot = (share: number, gap: number, side: 1 | -1): Spot => {
    const [x, y, angle] = alongAt(points, share)
    // Under a line a name hangs by its height.
    const off = side < 0 ? -gap * height : (gap + 0.75) * height
    if (!turned) return { x, y: y + off, anchor: 'middle' }
    return {
      x: x - off * Math.sin(angle),
      y: y + off * Math.cos(angle),
      anchor: 'middle',
      turn: (angle * 180) / Math.PI,
    }
  }
  return ([-1, 1] as const).flatMap((side) => gaps.flatMap((gap) => shares.map((share) => spot(share, gap, side))))
}

/** Places within a band, on its middle. */
export function spotsWithin(middle: readonly Point[], height: number): Spot[] {
  return [0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8].map((share) => {
    const [x, y, angle] = alongAt(middle, share)
    return {
      x: x - 0.3 * height * Math.sin(angle),
      y: y + 0.3 * height * Math.cos(angle),
      anchor: 'middle' as const,
      turn: (angle * 180) / Math.PI,
    }
  })
}

/** The point at a share of the way along a line, and how the line is turned there. */
function alongAt(points: readonly Point[], share: number): [x: number, y: number, angle: number] {
  const at = share * (points.length - 1)
  const i = Math.min(points.length - 2, Math.floor(at))
  const [a, b] = [points[i] ?? [0, 0], points[i + 1] ?? [0, 0]]
  const part = at - i
  return [a[0] + (b[0] - a[0]) * part, a[1] + (b[1] - a[1]) * part, Math.atan2(b[1] - a[1], b[0] - a[0])]
}

/** Places beside a point: right, left, over and under it. */
export function spotsBeside([x, y]: Point, height: number, away = 11): Spot[] {
  const level = y + 0.3 * height
  return [
    { x: x + away, y: level, anchor: 'start' },
    { x: x - away, y: level, anchor: 'end' },
    { x, y: y - away, anchor: 'middle' },
    { x, y: y + away + 0.7 * height, anchor: 'middle' },
    { x: x + away, y: y - away, anchor: 'start' },
    { x: x - away, y: y - away, anchor: 'end' },
    { x: x + away, y: y + away + 0.7 * height, anchor: 'start' },
    { x: x - away, y: y + away + 0.7 * height, anchor: 'end' },
  ]
}

function within(b: Box, frame: Box): boolean {
  return b.left >= frame.left && b.right <= frame.right && b.top >= frame.top && b.bottom <= frame.bottom
}

function touch(a: Box, b: Box): boolean {
  return a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom
}
