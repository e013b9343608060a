// The knots on the rope of a job's trail: the shape says the state.
export type KnotState = 'done' | 'here' | 'waits' | 'open' | 'barred' | 'not_needed'

export const knotWords: Record<KnotState, string> = {
  done: 'done',
  here: 'here',
  waits: 'waits for something',
  open: 'open',
  barred: 'closed by a stop rule',
  not_needed: 'not needed',
}

function shape(state: KnotState) {
  switch (state) {
    case 'done':
      return (
        <>
          <circle cx="12" cy="12" r="9.5" className="fill-verdigris stroke-verdigris" />
          <path d="M7.500 12.300l3.100 3.100 5.900-6.400" className="fill-transparent stroke-sheet" strokeWidth="2.6" />
        </>
      )
    case 'waits':
      return <path d="M12 2.500l9.500 9.500-9.500 9.500L2.500 12z" className="fill-sheet stroke-marigold" />
    case 'barred':
      return (
        <>
          <circle cx="12" cy="12" r="9" className="fill-oxide-wash stroke-oxide" />
          <path d="M6.500 12h11" className="stroke-oxide" strokeWidth="3.4" />
        </>
      )
    case 'not_needed':
      return <path d="M7 12h10" className="stroke-lead" strokeWidth="4" />
    default:
      return <circle cx="12" cy="12" r="8.8" className="fill-sheet stroke-lead" />
  }
}

/** One knot; here draws a ring with a core around whatever its state is. */
export function Knot({ state, here, size = 24 }: { state: KnotState; here: boolean; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 24 24" aria-hidden="true" className="relative shrink-0 bg-paper">
      <g fill="none" strokeWidth="2.2" strokeLinecap="round" strokeLinejoin="round">
        {here ? (
          <>
            <circle cx="12" cy="12" r="9.5" className="fill-sheet stroke-marigold" strokeWidth="3.4" />
            <circle cx="12" cy="12" r="3.6" className="fill-marigold" />
          </>
        ) : (
          shape(state)
        )}
      </g>
    </svg>
  )
}
