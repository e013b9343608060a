import { lazy, Suspense, useEffect } from 'react'
import { Navigate, Route, Routes } from 'react-router'
import { useLive } from './api/live'
import { useOutbox } from './api/outbox'
import { useHello } from './api/session'
import { Unavailable } from './parts/trouble'
import { SetUpScreen, SignInScreen } from './screens/signin/signin'
import { TodayScreen } from './screens/today/today'

// Each screen but the first comes when it is opened.
const JobScreen = lazy(async () => ({ default: (await import('./screens/job/job')).JobScreen }))
const BringInScreen = lazy(async () => ({ default: (await import('./screens/bringin/bringin')).BringInScreen }))
const ReportScreen = lazy(async () => ({ default: (await import('./screens/report/report')).ReportScreen }))
const BatteryScreen = lazy(async () => ({ default: (await import('./screens/battery/battery')).BatteryScreen }))
const PeopleScreen = lazy(async () => ({ default: (await import('./screens/people/people')).PeopleScreen }))
const SumsScreen = lazy(async () => ({ default: (await import('./screens/sums/sums')).SumsScreen }))
const FiguresScreen = lazy(async () => ({ default: (await import('./screens/figures/figures')).FiguresScreen }))

const InstrumentsScreen = lazy(async () => ({
  default: (await import('./screens/instruments/instruments')).InstrumentsScreen,
}))

/** The screen that is worked on, fetched ahead where it can be kept for when the line is
 * down. */
function useJobAtHand() {
  useEffect(() => {
    if (!navigator.serviceWorker?.controller) return
    const timer = setTimeout(() => {
      import('./screens/job/job').then((screen) => screen.fetchStages()).catch(() => undefined)
    }, 2500)
    return () => clearTimeout(timer)
  }, [])
}

export function App() {
  const { data: hello, error, refetch } = useHello()
  useLive(!!hello?.person)
  useOutbox(hello?.person?.id)
  useJobAtHand()
  if (error) return <Unavailable error={error} retry={() => void refetch()} />
  if (!hello) return null
  if (hello.needs_set_up) return <SetUpScreen />
  if (!hello.person) return <SignInScreen hello={hello} />
  return (
    <Suspense fallback={null}>
      <Routes>
        <Route path="/" element={<TodayScreen />} />
        <Route path="/bring-in" element={<BringInScreen />} />
        <Route path="/jobs/:job" element={<JobScreen />} />
        <Route path="/jobs/:job/report" element={<ReportScreen />} />
        <Route path="/batteries/:battery" element={<BatteryScreen />} />
        <Route path="/sums" element={<SumsScreen />} />
        <Route path="/sums/:sum" element={<SumsScreen />} />
        <Route path="/figures" element={<FiguresScreen />} />
        <Route path="/instruments" element={<InstrumentsScreen />} />
        <Route path="/people" element={<PeopleScreen />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </Suspense>
  )
}
