// The frame of every screen: the one dark bar on top, and what it opens.
import { DropdownMenu } from 'radix-ui'
import { Moon, Sun, WifiOff } from 'lucide-react'
import type { ReactNode } from 'react'
import { NavLink, useLocation, useNavigate } from 'react-router'
import { useLineUp } from '../api/live'
import { useHello, useMay, useSignOut } from '../api/session'
import { DeedsBar } from '../delivery/list'
import { ClockBar } from './clocks'
import { setTheme, useTheme } from './theme'
import { Find } from './find'
import { Keys } from './keys'
import { Mark } from './glyph'
import { useTitle } from './title'
import { Warned } from './warned'

const links = [
  // On a phone the mark leads there.
  { to: '/', label: 'Today', narrow: false },
  { to: '/shelf', label: 'Shelf', narrow: true },
  { to: '/yard', label: 'Yard', narrow: true },
  { to: '/stock', label: 'Stock', narrow: false },
  { to: '/bring-in', label: 'Bring it in', narrow: false },
  { to: '/sums', label: 'Sums', narrow: false },
]

export function Shell({ children, fill = false }: { children: ReactNode; fill?: boolean }) {
  return (
    <div className={fill ? 'flex min-h-dvh flex-col lg:h-dvh' : 'flex min-h-dvh flex-col'}>
      <TopBar />
      {children}
      <Keys />
    </div>
  )
}

const titles: Record<string, string> = {
  '/': 'Today',
  '/bring-in': 'Bring it in',
  '/shelf': 'Shelf',
  '/shelf/set-up': 'Hours, chargers and places',
  '/yard': 'Yard',
  '/yard/rounds': 'Rounds',
  '/stock': 'Stock',
  '/stock/labels': 'Labels to stick on',
  '/sums': 'Sums',
  '/figures': 'Figures and their sources',
  '/instruments': 'Instruments',
  '/account': 'My account',
  '/server': 'Server and backups',
  '/people': 'People of the shop',
}

function TopBar() {
  useTitle(titles[useLocation().pathname])
  return (
    <header className="no-print flex min-h-target shrink-0 max-sm:flex-wrap items-center gap-1 bg-bar px-3 text-bar-ink md:gap-2 md:px-5">
      <NavLink to="/" className="flex items-center gap-3 pr-1 font-bold sm:pr-3" aria-label="Grapnel, to Today">
        <Mark />
        <span className="hidden sm:inline">Grapnel</span>
      </NavLink>
      <nav aria-label="Main" className="flex h-full min-h-11 items-stretch">
        {links.map((l) => (
          <NavLink
            key={l.to}
            to={l.to}
            end={l.to === '/' || l.to === '/bring-in'}
            className={({ isActive }) =>
              `flex items-center border-b-[3px] px-1.5 pt-[3px] whitespace-nowrap sm:px-3 ${l.narrow ? '' : 'max-sm:hidden'} ${isActive ? 'border-bar-ink font-bold' : 'border-transparent'}`
            }
          >
            {l.label}
          </NavLink>
        ))}
      </nav>
      <div className="ml-auto flex min-w-0 items-center gap-1">
        <Warned />
        <LineDown />
        <DeedsBar />
        <ClockBar />
        <Find />
        <ThemeButton />
        <PersonMenu />
      </div>
    </header>
  )
}

function LineDown() {
  const up = useLineUp()
  if (up) return null
  return (
    <span
      role="status"
      className="flex items-center gap-1.5 rounded-part bg-marigold-wash px-2 py-1 text-small text-ink"
    >
      <WifiOff size={16} aria-hidden="true" />
      <span className="max-sm:sr-only">The line is down</span>
    </span>
  )
}

/** Where the bar is narrow the theme is turned in the person's menu. */
function ThemeButton() {
  const theme = useTheme()
  const other = theme === 'dark' ? 'light' : 'dark'
  return (
    <button
      type="button"
      className="grid size-11 place-items-center rounded-part max-sm:hidden"
      aria-label={`Switch to the ${other} theme`}
      onClick={() => setTheme(other)}
    >
      {theme === 'dark' ? <Sun size={20} /> : <Moon size={20} />}
    </button>
  )
}

function PersonMenu() {
  const { data } = useHello()
  const signOut = useSignOut()
  const other = useTheme() === 'dark' ? 'light' : 'dark'
  const navigate = useNavigate()
  const looksAfter = useMay('serverState')
  if (!data?.person) return null
  const item = 'rounded-part px-3 py-2.5 outline-none data-highlighted:bg-paper'
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        className="grid size-11 place-items-center rounded-part"
        aria-label={`${data.person.initials}: ${data.person.name}, menu`}
      >
        <span className="grid size-8 place-items-center rounded-full border-[1.5px] border-bar-ink text-small font-bold">
          {data.person.initials}
        </span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-20 min-w-56 rounded-part border-[1.5px] border-ink bg-sheet p-1.5 text-ink"
        >
          <div className="border-b border-line px-3 pt-1 pb-2">
            <div className="font-bold">{data.person.name}</div>
            <div className="text-small text-lead">
              {data.person.role}, {data.shop?.name}
            </div>
          </div>
          <DropdownMenu.Item className={`${item} sm:hidden`} onSelect={() => void navigate('/stock')}>
            Stock
          </DropdownMenu.Item>
          <DropdownMenu.Item className={`${item} sm:hidden`} onSelect={() => void navigate('/sums')}>
            Sums
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => void navigate('/account')}>
            My account
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => void navigate('/figures')}>
            Figures and their sources
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => void navigate('/instruments')}>
            Instruments
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => void navigate('/shelf/set-up')}>
            Hours, chargers and places
          </DropdownMenu.Item>
          <DropdownMenu.Item className={`${item} sm:hidden`} onSelect={() => setTheme(other)}>
            Switch to the {other} theme
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => dispatchEvent(new Event('grapnel-keys'))}>
            Keys
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => void navigate('/people')}>
            People of the shop
          </DropdownMenu.Item>
          {looksAfter && (
            <DropdownMenu.Item className={item} onSelect={() => void navigate('/server')}>
              Server and backups
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Item
            className={item}
            onSelect={() => {
              void navigate('/')
              signOut.mutate()
            }}
          >
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}
