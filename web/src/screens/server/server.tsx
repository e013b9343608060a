// The server as its owner sees it: its backups, how others reach it, what is to be seen to.
import { useState } from 'react'
import { useServer, useBackUp, useDropBackup } from '../../api/server'
import { useHello } from '../../api/session'
import type { BackupRun, BackupState, ServerState } from '../../api/types'
import { dayAndClock, span, thin } from '../../parts/format'
import { May } from '../../parts/may'
import { Shell } from '../../parts/shell'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { Loaded } from '../../parts/ui/loaded'
import { type Column, Table } from '../../parts/ui/table'

export function ServerScreen() {
  return (
    <Shell>
      <main className="mx-auto grid w-full max-w-4xl gap-6 px-4 py-5 md:px-6">
        <h1 className="text-head font-bold">Server and backups</h1>
        <May do="serverState" else={<p className="text-lead">The owner looks after these.</p>}>
          <Seen />
        </May>
      </main>
    </Shell>
  )
}

function Seen() {
  const query = useServer()
  return (
    <Loaded query={query}>
      {(state) => (
        <>
          {state.warnings.length > 0 && (
            <div role="alert" className="rounded-part border-[1.5px] border-oxide bg-oxide-wash px-3 py-2">
              <ul className="grid gap-1">
                {state.warnings.map((w) => (
                  <li key={w.code}>{w.text}</li>
                ))}
              </ul>
            </div>
          )}
          <Backups state={state.backups} />
          <Reached state={state} />
        </>
      )}
    </Loaded>
  )
}

const why: Record<string, string> = { daily: 'daily', asked: 'asked for', upgrade: 'before an upgrade' }

function Backups({ state }: { state: BackupState | null }) {
  const zone = useHello().data?.shop?.time_zone
  const backUp = useBackUp()
  if (!state)
    return (
      <section className="grid gap-1" aria-label="Backups">
        <h2 className="font-bold">Backups</h2>
        <p>None are kept of this workshop. Start Grapnel with -backups and a folder, best on another disk.</p>
      </section>
    )
  const good = state.last_good
  return (
    <section className="grid gap-3" aria-label="Backups">
      <div className="flex flex-wrap items-start gap-x-6 gap-y-2">
        <div className="min-w-0 flex-1">
          <h2 className="font-bold">Backups</h2>
          <p className={`text-head font-bold ${state.late ? 'text-oxide-text' : ''}`}>
            {good ? `The last good one is ${age(good.made_at)} old` : 'There is none yet'}
          </p>
          {good && (
            <p className="text-small text-lead">
              <span className="num break-all">{good.path}</span>, {size(good.bytes)},{' '}
              {good.rows.toLocaleString('en-GB')} rows, read back and counted
            </p>
          )}
        </div>
        <Button weight="outline" disabled={backUp.isPending || !!state.since} onClick={() => backUp.mutate()}>
          {state.since ? 'Under way' : 'Make one now'}
        </Button>
      </div>
      <p role="status" className="sr-only">
        {state.since ? 'A backup is under way.' : ''}
      </p>
      <Trouble error={backUp.error} />
      <p>
        One is made each day and before every upgrade, into <span className="num break-all">{state.dir}</span>. Of the
        daily ones the latest of 7 days, 5 weeks and 12 months is kept; of those before an upgrade the last three; those
        that were asked for stay until you take them away. Each holds all of the shop, passwords as hashes and the
        authority&apos;s key: keep it where customers&apos; data may be, and a copy on another disk.
      </p>
      <p>
        Backups are sealed, so that a changed one is found out. On another machine grapnel restore asks for the key of
        the seal: print it with grapnel backup-key and keep it in the safe, apart from the backups.
      </p>
      {state.others > 0 && (
        <p>
          {state.others === 1 ? 'One more file' : `${state.others} more files`} in this folder{' '}
          {state.others === 1 ? 'is' : 'are'} of another database or of an earlier release. They stay until you take
          them away by hand.
        </p>
      )}
      {state.runs.length > 0 && <Table caption="Backups" columns={columns(zone)} rows={state.runs} id={(r) => r.id} />}
      <p className="text-small text-lead">
        To go back: grapnel restore -dry-run FILE says what one holds and what will be missing; grapnel restore -data
        EMPTY-FOLDER FILE makes the shop again.
      </p>
    </section>
  )
}

function columns(zone?: string): Column<BackupRun>[] {
  return [
    { name: 'Made', of: (r) => dayAndClock(r.made_at, zone) },
    { name: 'Why', of: (r) => why[r.why] ?? r.why },
    { name: 'On', of: (r) => r.host },
    { name: 'Size', figure: true, of: (r) => (r.trouble ? '' : size(r.bytes)) },
    { name: 'Took', figure: true, of: (r) => (r.trouble ? '' : `${r.seconds.toFixed(1)}${thin}s`) },
    {
      name: 'Came of it',
      of: (r) =>
        r.trouble ? (
          <span className="break-words text-oxide-text">Failed: {r.trouble}</span>
        ) : r.missing ? (
          <span className="break-words text-oxide-text">
            Missing: <span className="num break-all">{r.path}</span> is not there any more
          </span>
        ) : r.removed_at ? (
          <span className="text-lead">good then; taken away {dayAndClock(r.removed_at, zone)}</span>
        ) : (
          <>
            good, every row counted
            {r.why === 'asked' && <TakeAway run={r} />}
          </>
        ),
    },
  ]
}

/** Takes a backup away that was asked for: it asks once more, since it cannot be had back. */
function TakeAway({ run }: { run: BackupRun }) {
  const [sure, setSure] = useState(false)
  const drop = useDropBackup()
  if (!sure)
    return (
      <Button className="ml-3" onClick={() => setSure(true)}>
        Take it away
      </Button>
    )
  return (
    <span className="grid gap-2 py-1">
      <span>It cannot be had back.</span>
      <span className="flex flex-wrap gap-2">
        <Button weight="outline" disabled={drop.isPending} onClick={() => drop.mutate(run.id)}>
          Take away its file
        </Button>
        <Button autoFocus onClick={() => setSure(false)}>
          Keep it
        </Button>
      </span>
      <Trouble error={drop.error} />
    </span>
  )
}

function Reached({ state }: { state: ServerState }) {
  return (
    <section className="grid gap-1" aria-label="How others reach it">
      <h2 className="font-bold">How others reach it</h2>
      {state.plain ? (
        <p>Over plain HTTP. Phones need TLS for the camera and for being installed as well.</p>
      ) : state.fingerprint ? (
        <>
          <p>
            Over TLS by the workshop&apos;s own authority
            {state.certificate_until && `; the certificate holds until ${state.certificate_until.slice(0, 10)}`}.
            Compare its fingerprint on each phone before you trust it there:
          </p>
          <p className="num break-words">{state.fingerprint}</p>
        </>
      ) : (
        <p>From this machine alone, or through a proxy that speaks TLS.</p>
      )}
      <p className="text-small text-lead">Release {state.release}</p>
    </section>
  )
}

const age = (iso: string) => span(Date.now() - Date.parse(iso))

function size(bytes: number): string {
  return bytes < 1 << 20 ? `${Math.ceil(bytes / 1024)}${thin}kB` : `${(bytes / (1 << 20)).toFixed(1)}${thin}MB`
}
