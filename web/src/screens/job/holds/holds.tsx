import { useState } from 'react'
import type { Assessment, JobPage } from '../../../api/types'
import { useChoices } from '../../../api/jobs'
import { useWord } from '../../../api/words'
import { Glyph, toneFor } from '../../../parts/glyph'
import { percent, span } from '../../../parts/format'
import { TurnsAndSchools } from './account'
import { Because, WouldChange } from './because'
import { Button } from '../../../parts/ui/button'

type Props = {
  page: JobPage
  battery: string
  assessment: Assessment
  preview: boolean
  /** How many readings are set aside, and how they are counted again. */
  aside: number
  countAgain: () => void
  onNext: (test: string) => void
}

const conditions = ['sound', 'worn', 'dead_cell', 'damaged'] as const

const conditionTone = { sound: 'fill-verdigris', worn: 'fill-marigold', dead_cell: 'fill-oxide', damaged: 'fill-oxide' }

/** What holds: the verdict, its two questions, what to do next and why. */
export function Holds({ page, battery, assessment, preview, aside, countAgain, onNext }: Props) {
  const word = useWord()
  const [why, setWhy] = useState(false)
  const { verdict, condition, causes } = assessment
  const judged = verdict.cause !== null
  const brought = causes.filter((c) => !(conditions as readonly string[]).includes(c.cause))
  return (
    <section
      aria-label="What holds"
      aria-live="polite"
      className={`flex min-h-0 flex-col bg-paper ${preview ? 'outline-2 -outline-offset-4 outline-marigold outline-dashed' : ''}`}
    >
      {/* What scrolls must be reached by keyboard. */}
      {/* eslint-disable-next-line jsx-a11y/no-noninteractive-tabindex */}
      <div tabIndex={0} className="flex min-h-0 flex-1 flex-col gap-2.5 px-5 py-4 lg:overflow-y-auto">
        <h2 className="text-small font-bold text-lead">{heading(preview, aside)}</h2>
        {aside > 0 && (
          <Button className="self-start" onClick={countAgain}>
            {aside === 1 ? 'Count it again' : 'Count them again'}
          </Button>
        )}
        <div className="flex items-center gap-3">
          <Glyph action={verdict.action} />
          <p className="text-head leading-tight font-bold" data-action={verdict.action}>
            {word(verdict.action)}
          </p>
        </div>
        <Because statements={why ? verdict.because : verdict.because.slice(0, 1)} />
        {why && <Sides causes={causes} />}
        {why && <WouldChange statements={verdict.would_change} confidence={verdict.confidence} />}
        {why && !preview && <TurnsAndSchools page={page} battery={battery} />}
        {judged && !why && (
          <>
            <div className="border-t border-line pt-2.5">
              <h3 className="mb-1 text-small font-bold text-lead">Is the battery good?</h3>
              {conditions
                .filter((c) => c === 'sound' || condition[c] >= 0.045)
                .map((c) => (
                  <Bar key={c} name={word(c)} share={condition[c]} tone={conditionTone[c]} />
                ))}
            </div>
            {brought.length > 0 && (
              <div>
                <h3 className="mb-1 text-small font-bold text-lead">What brought it here?</h3>
                {brought.slice(0, 3).map((c) => (
                  <Bar key={c.cause} name={word(c.cause)} share={c.probability} tone="fill-lead" />
                ))}
              </div>
            )}
          </>
        )}
      </div>
      <NextCard assessment={assessment} why={why} setWhy={setWhy} onNext={onNext} />
    </section>
  )
}

function heading(preview: boolean, aside: number): string {
  if (aside > 0)
    return `What would hold without ${aside === 1 ? 'one reading' : `${aside} readings`}; nothing is changed`
  return preview ? 'What would hold, not kept yet' : 'What holds'
}

/** The likeliest causes, each with the readings for and against it by weight. */
function Sides({ causes }: { causes: Assessment['causes'] }) {
  const word = useWord()
  const told = causes.filter((c) => c.for.length + c.against.length > 0).slice(0, 3)
  if (told.length === 0) return null
  return (
    <div className="border-t border-line pt-3">
      <h3 className="mb-1 text-small font-bold text-lead">For and against, the weightiest first</h3>
      {told.map((c) => (
        <div key={c.cause} className="mb-2">
          <p>
            {word(c.cause)} <span className="num text-lead">{percent(c.probability)}</span>
          </p>
          <ul className="text-small">
            {c.for.slice(0, 3).map((s, i) => (
              <li key={`for${i}`} className="grid grid-cols-[4.4rem_1fr]">
                <span className="text-verdigris-text">for</span>
                {s.text}
              </li>
            ))}
            {c.against.slice(0, 2).map((s, i) => (
              <li key={`against${i}`} className="grid grid-cols-[4.4rem_1fr]">
                <span className="text-oxide-text">against</span>
                {s.text}
              </li>
            ))}
          </ul>
        </div>
      ))}
    </div>
  )
}

function Bar({ name, share, tone }: { name: string; share: number; tone: string }) {
  return (
    <div className="grid grid-cols-[minmax(5rem,9.9rem)_minmax(2rem,1fr)_minmax(1.8rem,auto)] items-center gap-2 text-tick leading-[1.45rem]">
      <span>{name}</span>
      <span className="h-2 overflow-hidden rounded-part bg-line">
        <svg className="block h-2 w-full" preserveAspectRatio="none" viewBox="0 0 100 1" aria-hidden="true">
          <rect width={share * 100} height="1" className={tone} />
        </svg>
      </span>
      <span className="num text-right">{percent(share)}</span>
    </div>
  )
}

type NextProps = {
  assessment: Assessment
  why: boolean
  setWhy: (open: boolean) => void
  onNext: (test: string) => void
}

const wash = { verdigris: 'bg-verdigris-wash', marigold: 'bg-marigold-wash', oxide: 'bg-oxide-wash', lead: 'bg-sheet' }

function NextCard({ assessment, why, setWhy, onNext }: NextProps) {
  const next = assessment.next[0]
  const { data: choices } = useChoices()
  const { stage_of_test: stageOf, words = {} } = choices ?? {}
  return (
    <div className={`mx-5 mb-3 shrink-0 rounded-card p-3.5 ${wash[toneFor(assessment.verdict.action)]}`}>
      <h3 className="text-small font-bold">
        {next ? `Next, ${span(next.minutes * 60000)} of work` : 'Nothing more to test'}
        {next && next.wait > 0 ? ` and ${span(next.wait * 60000)} of waiting` : ''}
      </h3>
      <p className="mt-0.5">{next ? next.text.text : 'The battery side is settled.'}</p>
      {next && <p className="mt-0.5 text-small text-lead">{next.why.text}</p>}
      <div className="mt-2.5 flex flex-wrap gap-2">
        {next && stageOf?.[next.test] && (
          <Button weight="main" onClick={() => onNext(next.test)}>
            {words[`button_${next.test}`] ?? words.button}
          </Button>
        )}
        <Button aria-expanded={why} onClick={() => setWhy(!why)}>
          {why ? 'Less' : 'Why this?'}
        </Button>
      </div>
    </div>
  )
}
