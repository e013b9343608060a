// What waits on this device, to look at: in the bar on top how much, and on a tap each
// deed with what is wrong with it and the ways on.
import { CloudUpload, TriangleAlert } from 'lucide-react'
import { Link } from 'react-router'
import { useHello } from '../api/session'
import { useWord } from '../api/words'
import { whenNow } from '../parts/format'
import { says, type Deed } from './deeds'
import { takeBack, tryAgain } from './queue'
import { useDeeds, useDeedsLast, useHeldBack } from './use'
import { BarPopover } from '../parts/ui/bar-popover'
import { Button } from '../parts/ui/button'

/** How much waits, on every screen. */
export function DeedsBar() {
  const list = useDeeds()
  const lasts = useDeedsLast()
  const why = useHeldBack()
  if (list.length === 0) return null
  const back = list.filter((d) => d.refused).length
  return (
    <BarPopover
      name="On this device"
      look="bg-marigold-wash text-ink"
      button={
        <>
          {back > 0 ? <TriangleAlert size={17} aria-hidden="true" /> : <CloudUpload size={17} aria-hidden="true" />}
          <span className="num font-bold">{list.length}</span>
          <span className="text-small max-md:sr-only">{back > 0 ? `${back} sent back` : 'to be sent'}</span>
        </>
      }
    >
      <h2 className="font-bold">On this device, not at the server yet</h2>
      {why && (
        <p role="status" className="rounded-part bg-marigold-wash px-2 py-1 text-small">
          {why} What waits here is sent by itself then.
        </p>
      )}
      {!lasts && (
        <p className="rounded-part bg-oxide-wash px-2 py-1 text-small">
          This browser keeps nothing: leave this page open until all is sent.
        </p>
      )}
      <ol aria-label="What waits">
        {list.map((d) => (
          <DeedLine key={d.id} deed={d} goes />
        ))}
      </ol>
    </BarPopover>
  )
}

type LineProps = { deed: Deed; goes?: boolean; setLine?: (line: string) => void }

/** One deed in words. */
export function DeedLine({ deed, goes, setLine }: LineProps) {
  const word = useWord()
  const { data } = useHello()
  const others = deed.person !== data?.person?.id && deed.by
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-line py-1.5 last:border-0">
      <span className="num text-small text-lead">{whenNow(deed.at, data?.shop?.time_zone)}</span>
      <span className={`min-w-0 flex-1 break-words ${deed.kind === 'reading' ? 'num' : ''}`}>{says(deed, word)}</span>
      {others && <span className="text-small text-lead">sent when {deed.by} is signed in</span>}
      {goes && deed.kind !== 'sealed' && (
        <Button asChild>
          <Link to={`/jobs/${deed.subject}`}>The job</Link>
        </Button>
      )}
      {deed.refused && <Refused deed={deed} setLine={setLine} />}
    </li>
  )
}

/** What the server had against it, and the ways on. */
export function Refused({ deed, setLine }: LineProps) {
  if (!deed.refused) return null
  return (
    <div className="basis-full">
      <p className="text-small text-oxide-text">{deed.refused.text}</p>
      <div className="flex flex-wrap gap-2 pt-1">
        {setLine && deed.kind === 'reading' && (
          <Button
            onClick={() => {
              setLine(deed.line)
              void takeBack(deed.id)
            }}
          >
            Put it in the line again
          </Button>
        )}
        <Button onClick={() => void tryAgain(deed.id)}>Send it again</Button>
        {deed.kind === 'picture' && <SavePicture body={deed.body} id={deed.id} />}
        <Button onClick={() => void takeBack(deed.id)}>{deed.kind === 'picture' ? 'Let it go' : 'Leave it out'}</Button>
      </div>
    </div>
  )
}

/** Hands a picture to the device's own files. */
function SavePicture({ body, id }: { body: Blob; id: string }) {
  const save = () => {
    const link = document.createElement('a')
    link.href = URL.createObjectURL(body)
    link.download = `picture-${id.slice(0, 8)}.jpg`
    link.click()
    setTimeout(() => URL.revokeObjectURL(link.href), 1000)
  }
  return <Button onClick={save}>Save it to the device</Button>
}
