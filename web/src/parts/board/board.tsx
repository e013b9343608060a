// A board of time: lanes that are places, blocks that are real links, a now-line. A block
// may be taken to another lane, by hand or by the keys.
import {
  closestCenter,
  DndContext,
  KeyboardCode,
  KeyboardSensor,
  MouseSensor,
  TouchSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type Announcements,
  type DragEndEvent,
  type KeyboardCoordinateGetter,
  type Modifier,
} from '@dnd-kit/core'
import { scaleTime } from 'd3-scale'
import { useId, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { clock } from '../format'
import { Hatch } from '../plot/hatch'
import { useRem } from '../rem'
import { useWidth } from '../width'
import { layOut, nextLane, type Lane, type Layout, type Place, type Span } from './layout'

/** What a block stands for: hands at work, a wait, a charge, one that is not as it should be, one to come, danger, or the customer. */
export type Look = 'hands' | 'wait' | 'live' | 'doubt' | 'planned' | 'danger'

export type Block = Span & {
  title: string
  words: string
  look: Look
  href: string
  /** It stays in its lane, also where others may be moved. */
  fixed?: boolean
}

type Props = {
  name: string
  lanes: string[]
  blocks: Block[]
  now: number
  /** What is shown at least, from and to. */
  window: [number, number]
  zone?: string
  /** How a time is said on its axis; as a clock where nothing else is wanted. */
  say?: (time: Date) => string
  /** Takes a block to another lane; a board without it cannot be changed. */
  move?: (id: string, lane: string) => void
}

const looks: Record<Look, string> = {
  hands: 'border-ink bg-sheet',
  wait: 'border-marigold bg-marigold-wash',
  live: 'border-verdigris bg-verdigris-wash',
  doubt: 'border-marigold bg-marigold-wash',
  planned: 'border-verdigris border-dashed bg-sheet',
  danger: 'border-oxide bg-oxide-wash',
}

/** Sizes in units of the text, which a person may set. */
const inRem = { top: 2.75, left: 6, leastRow: 3.25, mostRow: 5.25, least: 7.6, label: 3.9 }
const gap = 6
const edge = 14

export function Board(props: Props) {
  // While a block is held the board stands still: a plan that comes in lays nothing elsewhere under the hand.
  const [held, setHeld] = useState<Props>()
  const { name, lanes, blocks, now, window, zone, say, move } = held ?? props
  const [ref, width, room] = useWidth<HTMLDivElement>(900)
  const rem = useRem()
  const hatch = useId()
  const help = useId()
  const left = inRem.left * rem
  const right = width - edge
  const x = scaleTime(window, [left, right])
  const laid = layOut(blocks, lanes, x, {
    ...{ left, right, gap, room: room - edge },
    top: inRem.top * rem,
    leastRow: inRem.leastRow * rem,
    mostRow: inRem.mostRow * rem,
    least: inRem.least * rem,
  })
  const ticks = x.ticks(8)
  return (
    <Moving blocks={blocks} laid={laid} move={move} take={() => setHeld(props)} leave={() => setHeld(undefined)}>
      <div ref={ref} className="min-h-full overflow-hidden">
        <div className="relative" style={{ height: laid.height + edge }} role="group" aria-label={name}>
          <svg width={width} height={laid.height + edge} className="absolute inset-0 block" aria-hidden="true">
            <defs>
              <Hatch id={hatch} />
            </defs>
            {ticks.map((t) => (
              <g key={+t}>
                <path d={`M${x(t)} ${inRem.top * rem - 8}V${laid.height}`} className="stroke-line" />
                {/* The time that it is stands over those beside it. */}
                {Math.abs(x(t) - x(now)) > inRem.label * rem && (
                  <text x={x(t)} y={1.5 * rem} textAnchor="middle" className="num fill-lead text-tick">
                    {say ? say(t) : clock(t.toISOString(), zone)}
                  </text>
                )}
              </g>
            ))}
            {laid.lanes.map((l) => (
              <path key={l.name} d={`M${left} ${l.y + l.height}H${width}`} className="stroke-line" />
            ))}
            <path d={`M${x(now)} ${inRem.top * rem - 10}V${laid.height}`} className="stroke-oxide" strokeWidth="2" />
            <rect
              x={x(now) - 1.75 * rem}
              y={0.5 * rem}
              width={3.5 * rem}
              height={1.5 * rem}
              rx={6}
              className="fill-oxide"
            />
            <text x={x(now)} y={1.56 * rem} textAnchor="middle" className="num fill-sheet text-tick font-bold">
              {say ? 'now' : clock(new Date(now).toISOString(), zone)}
            </text>
          </svg>
          {move && (
            <p id={help} className="sr-only">
              Space takes it up, up and down bring it to another place, space puts it there, escape leaves it.
            </p>
          )}
          {laid.lanes.map((lane) => (
            <LaneRow key={lane.name} lane={lane} left={left}>
              {blocks
                .filter((b) => b.lane === lane.name)
                .map((b) => {
                  const place = laid.places.get(b.id)
                  const block = { block: b, place: place ?? nowhere, lane, height: laid.row - gap, hatch }
                  return move && !b.fixed ? (
                    <Movable key={b.id} {...block} help={help} />
                  ) : (
                    <BlockLink key={b.id} {...block} />
                  )
                })}
            </LaneRow>
          ))}
        </div>
      </div>
    </Moving>
  )
}

const nowhere: Place = { x: 0, y: 0, width: 0, tail: 0 }

function LaneRow({ lane, left, children }: { lane: Lane; left: number; children: React.ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id: lane.name })
  return (
    <section
      ref={setNodeRef}
      aria-label={lane.name}
      data-lane={lane.name}
      className={`absolute inset-x-0 ${isOver ? 'bg-sheet' : ''}`}
      style={{ top: lane.y, height: lane.height }}
    >
      <h2 className="flex h-full items-center pr-1 pl-4 text-body leading-tight font-bold" style={{ width: left }}>
        <span className="line-clamp-2">{lane.name}</span>
      </h2>
      {children}
    </section>
  )
}

type BlockProps = { block: Block; place: Place; lane: Lane; height: number; hatch: string }
type Held = ReturnType<typeof useDraggable>

/** One block: what it is about, and what it does or waits for. */
function BlockLink({ block, place, lane, height, hatch, held, help }: BlockProps & { held?: Held; help?: string }) {
  const { title, words, look, href } = block
  const { x: dx = 0, y: dy = 0 } = held?.transform ?? {}
  const box = { left: place.x + dx, top: place.y - lane.y + dy, height }
  return (
    <>
      {place.tail > 4 && !held?.isDragging && (
        <span
          className="absolute border-[1.5px] border-l-0 border-dotted border-lead"
          style={{ ...box, left: box.left + place.width, top: box.top + 8, height: height - 16, width: place.tail }}
        />
      )}
      <Link
        ref={held?.setNodeRef}
        to={href}
        draggable={false}
        aria-describedby={help}
        {...held?.listeners}
        className={`absolute block overflow-hidden rounded-part border-[1.8px] px-2 py-1 leading-tight touch-manipulation ${looks[look]} ${held?.isDragging ? 'z-10 cursor-grabbing' : ''}`}
        style={{ ...box, width: place.width }}
      >
        {look === 'wait' && (
          <svg className="absolute inset-0 size-full" aria-hidden="true">
            <rect width="100%" height="100%" fill={`url(#${hatch})`} />
          </svg>
        )}
        <span className="relative flex h-full flex-col justify-center">
          <b className="block truncate text-tick">{title}</b>
          <span className="block truncate text-small">{words}</span>
        </span>
      </Link>
    </>
  )
}

function Movable(props: BlockProps & { help: string }) {
  const held = useDraggable({ id: props.block.id })
  return <BlockLink {...props} held={held} />
}

type MovingProps = Pick<Props, 'blocks' | 'move'> & {
  laid: Layout
  take: () => void
  leave: () => void
  children: React.ReactNode
}

const upAndDown: Modifier = ({ transform }) => ({ ...transform, x: 0 })

const keys = { start: [KeyboardCode.Space], cancel: [KeyboardCode.Esc], end: [KeyboardCode.Space, KeyboardCode.Enter] }

/** Blocks that may be taken up; where they may not, nothing listens. */
function Moving({ blocks, laid, move, take, leave, children }: MovingProps) {
  const byKeys = useMemo(() => laneByLane(laid.lanes), [laid.lanes])
  const sensors = useSensors(
    // A press that stays is a tap on the link; a finger that moves at once scrolls.
    useSensor(MouseSensor, { activationConstraint: { distance: 8 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 220, tolerance: 8 } }),
    // The page jumps along: a key pressed while it still glides would count from where it was.
    useSensor(KeyboardSensor, { coordinateGetter: byKeys, keyboardCodes: keys, scrollBehavior: 'auto' }),
  )
  const title = (id: string | number) => blocks.find((b) => b.id === id)?.title ?? ''
  const end = ({ active, over }: DragEndEvent) => {
    notATap()
    leave()
    const block = blocks.find((b) => b.id === active.id)
    if (block && over && over.id !== block.lane) move?.(block.id, String(over.id))
  }
  const cancel = () => {
    notATap()
    leave()
  }
  const say: Announcements = {
    onDragStart: ({ active }) => `${title(active.id)} is taken up.`,
    onDragOver: ({ active, over }) => (over ? `${title(active.id)} over ${over.id}.` : undefined),
    onDragEnd: ({ active, over }) => (over ? `${title(active.id)} is put to ${over.id}.` : undefined),
    onDragCancel: ({ active }) => `${title(active.id)} stays.`,
  }
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      modifiers={[upAndDown]}
      accessibility={{ announcements: say }}
      onDragStart={take}
      onDragEnd={end}
      onDragCancel={cancel}
    >
      {children}
    </DndContext>
  )
}

/** The arrows go from the lane it is over to the next, however far the page has scrolled. */
function laneByLane(lanes: Lane[]): KeyboardCoordinateGetter {
  return (event, { currentCoordinates, context: { collisionRect, droppableRects, over } }) => {
    const by = event.code === 'ArrowDown' ? 1 : event.code === 'ArrowUp' ? -1 : 0
    if (by === 0 || !collisionRect) return undefined
    event.preventDefault()
    const lane = nextLane(lanes, String(over?.id ?? ''), by)
    const rect = lane && droppableRects.get(lane.name)
    if (!rect) return undefined
    return { ...currentCoordinates, y: rect.top + rect.height / 2 - collisionRect.height / 2 }
  }
}

/** The click that ends a drag follows no link. */
function notATap() {
  const stop = (event: MouseEvent) => event.preventDefault()
  addEventListener('click', stop, { capture: true })
  setTimeout(() => removeEventListener('click', stop, { capture: true }), 60)
}
