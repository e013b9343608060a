// The load goes on: its seconds are counted from this tap, in reach of the thumb.
import { Hourglass } from 'lucide-react'
import { useClocks, useLeft } from '../../../api/clocks'
import { useStartClock, useStopClock } from '../../../delivery/use'
import type { BatteryOnJob, JobPage } from '../../../api/types'
import { thin } from '../../../parts/format'
import { Button } from '../../../parts/ui/button'

export function LoadStart({ page, battery }: { page: JobPage; battery: BatteryOnJob }) {
  const { data } = useClocks()
  const start = useStartClock(page, battery)
  const kind = battery.work.clocks.find((c) => c.kind === 'load')
  const stop = useStopClock()
  const running = data?.clocks.find((c) => c.battery_id === battery.id && c.kind === 'load')
  const over = useLeft(running) <= 0
  if (running) {
    return (
      <Button weight="outline" className="mb-2 w-full" onClick={() => stop.mutate(running)}>
        {over ? 'Seen' : 'Stop: load off'}
      </Button>
    )
  }
  if (!kind || battery.picture.plan.amps == null) return null
  return (
    <Button
      weight="outline"
      className="mb-2 w-full"
      onClick={() => {
        start.mutate(kind)
        scrollTo({ top: 0 })
      }}
    >
      <Hourglass size={18} aria-hidden="true" />
      Load on: count {kind.seconds}
      {thin}s
    </Button>
  )
}
