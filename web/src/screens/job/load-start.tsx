// The load goes on: its seconds are counted from this tap, in reach of the thumb.
import { Hourglass } from 'lucide-react'
import { useClocks, useStartClock } from '../../api/clocks'
import type { BatteryOnJob, JobPage } from '../../api/types'
import { thin } from '../../parts/format'

export function LoadStart({ page, battery }: { page: JobPage; battery: BatteryOnJob }) {
  const { data } = useClocks()
  const start = useStartClock(page, battery.id)
  const kind = battery.work.clocks.find((c) => c.kind === 'load')
  const running = data?.clocks.some((c) => c.battery_id === battery.id && c.kind === 'load')
  if (!kind || running || battery.picture.plan.amps == null) return null
  return (
    <button
      type="button"
      className="btn btn-outline mb-2 min-h-[48px] w-full"
      onClick={() => {
        start.mutate({ kind })
        scrollTo({ top: 0 })
      }}
    >
      <Hourglass size={18} aria-hidden="true" />
      Load on: count {kind.seconds}
      {thin}s
    </button>
  )
}
