import { useQueryClient } from '@tanstack/react-query'
import { lazy, useEffect, useState } from 'react'
import { Navigate, Route, Routes } from 'react-router'
import { inZone } from './api/device'
import { useLive } from './api/live'
import { useHello, useNobodyHere } from './api/session'
import type { Person } from './api/types'
import { useCarrying } from './delivery/use'
import { NewRelease } from './parts/new-release'
import { Part } from './parts/part'
import { useRestored } from './parts/restore'
import { Loaded } from './parts/ui/loaded'
import { Toasts } from './parts/ui/toast'
import { SetUpScreen, SignInAgain, SignInScreen } from './screens/signin/signin'
import { TodayScreen } from './screens/today/today'

// Each screen but the first comes when it is opened.
const JobScreen = lazy(async () => ({ default: (await import('./screens/job/job')).JobScreen }))
const BringInScreen = lazy(async () => ({ default: (await import('./screens/bringin/bringin')).BringInScreen }))
const ReportScreen = lazy(async () => ({ default: (await import('./screens/report/report')).ReportScreen }))
const HandOverScreen = lazy(async () => ({ default: (await import('./screens/report/handover')).HandOverScreen }))
const BatteryScreen = lazy(async () => ({ default: (await import('./screens/battery/battery')).BatteryScreen }))
const AccountScreen = lazy(async () => ({ default: (await import('./screens/account/account')).AccountScreen }))
const ServerScreen = lazy(async () => ({ default: (await import('./screens/server/server')).ServerScreen }))
const PeopleScreen = lazy(async () => ({ default: (await import('./screens/people/people')).PeopleScreen }))
const ShelfScreen = lazy(async () => ({ default: (await import('./screens/shelf/shelf')).ShelfScreen }))
const ChargeScreen = lazy(async () => ({ default: (await import('./screens/shelf/charge')).ChargeScreen }))
const SetUpShelfScreen = lazy(async () => ({ default: (await import('./screens/shelf/set-up')).SetUpShelfScreen }))
const SumsScreen = lazy(async () => ({ default: (await import('./screens/sums/sums')).SumsScreen }))
const FiguresScreen = lazy(async () => ({ default: (await import('./screens/figures/figures')).FiguresScreen }))
const ProcedureScreen = lazy(async () => ({ default: (await import('./screens/procedure/procedure')).ProcedureScreen }))
const ProceduresScreen = lazy(async () => ({ default: (await import('./screens/procedure/list')).ProceduresScreen }))
const JumpScreen = lazy(async () => ({ default: (await import('./screens/jump/jump')).JumpScreen }))
const TerminalsScreen = lazy(async () => ({
  default: (await import('./screens/terminals/terminals')).TerminalsScreen,
}))
const FitScreen = lazy(async () => ({ default: (await import('./screens/fit/fit')).FitScreen }))
const YardScreen = lazy(async () => ({ default: (await import('./screens/yard/yard')).YardScreen }))
const RoundsScreen = lazy(async () => ({ default: (await import('./screens/yard/rounds')).RoundsScreen }))
const SeasonScreen = lazy(async () => ({ default: (await import('./screens/season/season')).SeasonScreen }))
const StockScreen = lazy(async () => ({ default: (await import('./screens/stock/stock')).StockScreen }))
const LabelsScreen = lazy(async () => ({ default: (await import('./screens/stock/labels')).LabelsScreen }))

const KitScreen = lazy(async () => ({ default: (await import('./screens/kit/kit')).KitScreen }))
const InstrumentsScreen = lazy(async () => ({
  default: (await import('./screens/instruments/instruments')).InstrumentsScreen,
}))

/** What the day's work needs without the line besides the application itself, fetched
 * ahead where it can be kept: the bench and the core. */
function useWorkAtHand() {
  const cache = useQueryClient()
  useEffect(() => {
    if (!navigator.serviceWorker?.controller) return
    const timer = setTimeout(() => {
      const work = [
        import('./api/bench').then((bench) => bench.fetchSums(cache)),
        import('./api/device').then((device) => device.beReady()),
      ]
      // What cannot be fetched now is fetched when it is asked for.
      void Promise.allSettled(work)
    }, 2500)
    return () => clearTimeout(timer)
  }, [cache])
}

/** Who the open pages belong to: whoever is signed in, or was until the session ended. */
function useWhoseHere(hello: ReturnType<typeof useHello>['data']): Person | null {
  const [whose, setWhose] = useState<Person | null>(null)
  if (hello?.person && hello.person.id !== whose?.id) setWhose(hello.person)
  if (hello?.left && whose) setWhose(null)
  return hello?.person ?? whose
}

export function App() {
  const { data: hello, error, refetch } = useHello()
  const whose = useWhoseHere(hello)
  inZone(hello?.shop?.time_zone)
  useLive(!!hello?.person)
  useNobodyHere(hello)
  useCarrying(hello?.person)
  useWorkAtHand()
  if (error && !hello) {
    return (
      <>
        <NewRelease />
        <Loaded query={{ data: hello, error, refetch }} whole>
          {() => null}
        </Loaded>
      </>
    )
  }
  if (!hello) return null
  if (hello.needs_set_up) return <SetUpScreen />
  if (!whose) return <SignInScreen hello={hello} />
  return (
    <>
      <NewRelease />
      {/* Without a session nothing is to be read here, and nothing that was typed is lost. */}
      <div hidden={!hello.person} className="contents">
        <Toasts>
          <Screens key={whose.id} demo={import.meta.env.DEV || hello.demo.length > 0} />
        </Toasts>
      </div>
      {!hello.person && <SignInAgain hello={hello} name={whose.name} />}
    </>
  )
}

function Screens({ demo }: { demo: boolean }) {
  useRestored()
  return (
    <Part>
      <Routes>
        <Route path="/" element={<TodayScreen />} />
        <Route path="/bring-in" element={<BringInScreen />} />
        <Route path="/jobs/:job/:battery?/:stage?" element={<JobScreen />} />
        <Route path="/jobs/:job/report" element={<ReportScreen />} />
        <Route path="/jobs/:job/customer" element={<HandOverScreen />} />
        <Route path="/jobs/:job/procedures" element={<ProceduresScreen />} />
        <Route path="/jobs/:job/procedures/:attempt" element={<ProcedureScreen />} />
        <Route path="/jobs/:job/jump" element={<JumpScreen />} />
        <Route path="/jobs/:job/terminals" element={<TerminalsScreen />} />
        <Route path="/jobs/:job/fit" element={<FitScreen />} />
        <Route path="/yard" element={<YardScreen />} />
        <Route path="/yard/rounds" element={<RoundsScreen />} />
        <Route path="/yard/:standing" element={<SeasonScreen />} />
        <Route path="/stock" element={<StockScreen />} />
        <Route path="/stock/labels" element={<LabelsScreen />} />
        <Route path="/batteries/:battery" element={<BatteryScreen />} />
        <Route path="/shelf" element={<ShelfScreen />} />
        <Route path="/shelf/set-up" element={<SetUpShelfScreen />} />
        <Route path="/shelf/:charge" element={<ChargeScreen />} />
        <Route path="/sums" element={<SumsScreen />} />
        <Route path="/sums/:sum" element={<SumsScreen />} />
        <Route path="/figures" element={<FiguresScreen />} />
        <Route path="/instruments" element={<InstrumentsScreen />} />
        <Route path="/account" element={<AccountScreen />} />
        <Route path="/server" element={<ServerScreen />} />
        <Route path="/people" element={<PeopleScreen />} />
        {demo && <Route path="/kit" element={<KitScreen />} />}
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </Part>
  )
}
