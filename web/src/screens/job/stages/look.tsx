// Look: the battery as it stands, tapped where something is found. Each place of
// the drawing is a button of the list beside it as well.
import { useCallback, useState } from 'react'
import { Camera } from 'lucide-react'
import type { JobPage } from '../../../api/types'
import { useKeepPhoto, useWaitingPictures, type Picture } from '../../../api/photos'
import { Refused } from '../../../delivery/list'
import { useHello } from '../../../api/session'
import { useChoices } from '../../../api/jobs'
import { whenNow } from '../../../parts/format'
import { Trouble } from '../../../parts/trouble'
import { SceneView } from '../../../parts/scene/scene'
import { DateCode } from './date-code'
import type { StageProps } from './props'
import { StepAtHand } from './steps'
import { Cautions, Found } from './takes'
import { Button } from '../../../parts/ui/button'
import { Chip } from '../../../parts/ui/chips'
import { FileButton, TextField } from '../../../parts/ui/field'

const levels = ['ok', 'low', 'dry'] as const

export default function Look({ page, battery, assessment, setLine, keepLine }: StageProps) {
  const [place, setPlace] = useState('')
  const drawn = battery.scenes.find((s) => s.code === 'battery')
  const settings = battery.scenes.filter((s) => s.code.startsWith('setting'))
  const { data: choices } = useChoices()
  const places = choices?.look_places.filter((p) => page.vehicle || !p.of_vehicle) ?? []
  const at = places.find((p) => p.place === place)
  return (
    <div>
      <StepAtHand page={page} battery={battery} stage="look" setLine={setLine} />
      <div className="grid gap-4 md:grid-cols-[minmax(240px,320px)_1fr] md:grid-rows-[auto_1fr] [&>*]:min-w-0">
        {drawn && <SceneView scene={drawn} className="w-full max-w-[340px]" chosen={place} onTap={setPlace} />}
        <div className="grid content-start gap-3 md:col-start-2 md:row-span-2 md:row-start-1 [&>*]:min-w-0">
          <div className="flex flex-wrap gap-1.5" role="group" aria-label="Where something is found">
            <Chip onClick={() => keepLine('look none')}>Nothing found</Chip>
            {places.map((p) => (
              <Chip
                key={p.place}

                aria-pressed={p.place === place}
                onClick={() => setPlace(p.place === place ? '' : p.place)}
              >
                {p.text}
              </Chip>
            ))}
          </div>
          {at && (
            <div className="rounded-part border-[1.5px] border-ink p-2.5">
              <h2 className="mb-1.5 text-small font-bold">{at.text}: what is found? One tap keeps it</h2>
              <div className="flex flex-wrap gap-1.5" role="group" aria-label={`Found at: ${at.text}`}>
                {at.findings.map((f) => (
                  <Chip
                    key={f.line}

                    onClick={() => {
                      keepLine(f.line)
                      setPlace('')
                    }}
                  >
                    {f.text}
                  </Chip>
                ))}
              </div>
            </div>
          )}
          <div>
            <h2 className="text-small font-bold text-lead">The built-in eye</h2>
            <div className="mt-1 flex flex-wrap gap-1.5" role="group" aria-label="Colour of the eye">
              {choices?.eyes.map((e) => (
                <Chip key={e.line} onClick={() => keepLine(e.line)}>
                  {e.text}
                </Chip>
              ))}
            </div>
          </div>
          <DateCode job={page.job.id} battery={battery} />
          {battery.may_open && battery.cells > 0 && <Levels cells={battery.cells} keepLine={keepLine} />}
          <Found kinds={['level', 'case_leak']} assessment={assessment} />
          <Photos page={page} />
          <Cautions page={page} first={page.batteries.every((b) => b.readings.length === 0)} />
        </div>
        {settings.length > 0 && (
          <div className="grid content-start gap-3">
            {settings.map((scene) => (
              <figure key={scene.code}>
                <SceneView scene={scene} className="w-full max-w-[340px]" />
                <figcaption className="text-small text-lead">{scene.says.text}</figcaption>
              </figure>
            ))}
          </div>
        )}
      </div>
    </div>
  )
}

/** The level of each cell, tapped through ok, low and dry. */
function Levels({ cells, keepLine }: { cells: number; keepLine: (line: string) => void }) {
  const [list, setList] = useState<number[]>(() => Array<number>(cells).fill(0))
  const turn = (i: number) => setList(list.map((l, k) => (k === i ? (l + 1) % levels.length : l)))
  return (
    <div>
      <h2 className="text-small font-bold text-lead">The level in each cell; a tap turns it</h2>
      <div className="mt-1 flex flex-wrap gap-1.5" role="group" aria-label="Level in each cell">
        {list.map((l, i) => (
          <Chip
            key={i}
            className={`min-w-[48px] justify-center ${l === 0 ? '' : 'border-marigold bg-marigold-wash'}`}
            aria-label={`Cell ${i + 1}: ${levels[l]}`}
            onClick={() => turn(i)}
          >
            {levels[l]}
          </Chip>
        ))}
        <Button weight="outline" onClick={() => keepLine(`level ${list.map((l) => levels[l]).join(' ')}`)}>
          Keep the level
        </Button>
      </div>
    </div>
  )
}

/** Pictures taken at the vehicle, kept with the job. */
function Photos({ page }: { page: JobPage }) {
  const zone = useHello().data?.shop?.time_zone
  const keep = useKeepPhoto(page.job.id)
  const waiting = useWaitingPictures(page.job.id)
  const [note, setNote] = useState('')
  return (
    <section aria-label="Pictures">
      <h2 className="text-small font-bold text-lead">Pictures</h2>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        <TextField
          className="w-[16rem] max-w-full"
          label="What the picture shows"
          quiet
          placeholder="what it shows"
          value={note}
          maxLength={300}
          set={setNote}
        />
        <FileButton
          accept="image/*"
          capture="environment"
          take={(file) => keep.mutate({ file, note }, { onSuccess: () => setNote('') })}
        >
          <Camera size={20} aria-hidden="true" />
          {keep.isPending ? 'Keeping' : 'Take a picture'}
        </FileButton>
      </div>
      <Trouble error={keep.error} />
      {page.photos.length + waiting.length > 0 && (
        <ul className="mt-2 grid grid-cols-2 gap-2 sm:grid-cols-3">
          {page.photos.map((p) => (
            <li key={p.id}>
              <a href={`/api/photos/${p.id}`} target="_blank" rel="noreferrer">
                <img
                  src={`/api/photos/${p.id}`}
                  alt={p.note || 'picture without a note'}
                  loading="lazy"
                  className="aspect-[4/3] w-full rounded-part border border-line object-cover"
                />
              </a>
              <p className="text-small text-lead">
                {[p.note, p.by, whenNow(p.taken_at, zone)].filter(Boolean).join(', ')}
              </p>
            </li>
          ))}
          {waiting.map((p) => (
            <WaitingPicture key={p.id} picture={p} />
          ))}
        </ul>
      )}
    </section>
  )
}

/** A picture that is on this device only. */
function WaitingPicture({ picture }: { picture: Picture }) {
  const { body, note, refused } = picture
  const show = useCallback(
    (image: HTMLImageElement | null) => {
      if (!image) return
      const address = URL.createObjectURL(body)
      image.src = address
      return () => URL.revokeObjectURL(address)
    },
    [body],
  )
  return (
    <li>
      <img
        ref={show}
        alt={note || 'picture without a note'}
        className="aspect-[4/3] w-full rounded-part border-[1.5px] border-marigold object-cover"
      />
      {refused ? (
        <Refused deed={picture} />
      ) : (
        <p className="text-small text-marigold-text">On this device, to be sent</p>
      )}
    </li>
  )
}
