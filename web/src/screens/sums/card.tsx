// One sum: its inputs, every one live, the result, a picture where a curve says
// more than a number, the formula and its sources.
import { Check, Copy } from 'lucide-react'
import { useEffect, useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { type Inputs, useSum } from '../../api/bench'
import { useKeepSum } from '../../delivery/use'
import { ApiProblem } from '../../api/client'
import { useJob, useToday } from '../../api/jobs'
import type { Source, SumCard, SumFigure, SumInput, SumResult } from '../../api/types'
import { CurvePicture } from '../../parts/plot/curve'
import { thin } from '../../parts/format'
import { Trouble } from '../../parts/trouble'
import { Button } from '../../parts/ui/button'
import { SelectField, TextField } from '../../parts/ui/field'

export function Card({ card }: { card: SumCard }) {
  const [params, setParams] = useSearchParams()
  // What is typed is held here; the address follows it, and is slower than a hand.
  const [typed, setTyped] = useState<Inputs>({})
  const inputs = useMemo(() => ({ ...inputsFrom(card, params), ...typed }), [card, params, typed])
  useEffect(() => {
    if (Object.entries(typed).every(([name, value]) => params.get(name) === value)) return
    const next = new URLSearchParams(params)
    for (const [name, value] of Object.entries(typed)) next.set(name, value)
    setParams(next, { replace: true })
  }, [typed, params, setParams])
  const { data: result, error } = useSum(card.id, inputs)
  const set = (name: string, value: string) => setTyped((before) => ({ ...before, [name]: value }))
  const problems = error instanceof ApiProblem ? error.fields : []
  return (
    <article aria-labelledby="sum-title">
      <p className="mb-1 lg:hidden">
        <Link to={`/sums?${params.toString()}`} className="inline-flex min-h-target items-center text-lead underline">
          All sums
        </Link>
      </p>
      <h1 id="sum-title" className="text-head font-bold">
        {card.title}
      </h1>
      <p className="max-w-3xl text-lead">{card.formula}</p>
      <div className="mt-4 grid gap-x-8 gap-y-5 md:grid-cols-[minmax(250px,330px)_1fr] md:grid-rows-[auto_1fr] [&>*]:min-w-0">
        <div className="md:col-start-2">
          {error && problems.length === 0 ? <Trouble error={error} /> : null}
          {result && <Outcome result={result} stale={!!error} />}
        </div>
        <form
          data-free
          className="grid grid-cols-2 content-start gap-3 md:col-start-1 md:row-span-2 md:row-start-1 md:grid-cols-1 [&>*]:min-w-0"
          onSubmit={(e) => e.preventDefault()}
          aria-label="Inputs"
        >
          {card.inputs
            .filter((input) => belongs(card, input, inputs))
            .map((input) => (
              <InputField
                key={input.name}
                input={input}
                value={inputs[input.name] ?? input.start}
                set={(value) => set(input.name, value)}
                problem={problems.find((p) => p.field === input.name)?.text}
              />
            ))}
        </form>
        <div className="grid content-start gap-4 md:col-start-2 [&>*]:min-w-0">
          {result?.curve && <CurvePicture curve={result.curve} title={card.title} />}
          {result && !error && <Onwards card={card} inputs={inputs} result={result} />}
          <Sources sources={card.sources} />
        </div>
      </div>
    </article>
  )
}

/** The inputs of this card that the address holds; the rest begin as they are. */
function inputsFrom(card: SumCard, params: URLSearchParams): Inputs {
  const inputs: Inputs = {}
  for (const input of card.inputs) {
    const value = params.get(input.name)
    // A choice of another card may share the name and not the codes.
    const known = input.choices.length === 0 || input.choices.some((c) => c.code === value) || value === ''
    if (value !== null && known) inputs[input.name] = value
  }
  return inputs
}

/** An input may belong to one choice of another: a gauge or a cross-section. */
function belongs(card: SumCard, input: SumInput, inputs: Inputs): boolean {
  if (!input.if_name) return true
  const of = card.inputs.find((i) => i.name === input.if_name)
  return (inputs[input.if_name] ?? of?.start) === input.if_code
}

type FieldProps = { input: SumInput; value: string; set: (value: string) => void; problem?: string }

function InputField({ input, value, set, problem }: FieldProps) {
  const name = (
    <>
      <b>{input.label}</b>
      {input.optional && <span className="text-lead">, if known</span>}
    </>
  )
  if (input.choices.length > 0) {
    const options = input.optional ? [{ code: '', word: 'not known' }, ...input.choices] : input.choices
    return (
      <SelectField id={`in-${input.name}`} label={name} value={value} set={set} options={options} wrong={problem} />
    )
  }
  const unit = input.unit ? thin + input.unit : ''
  const range = `${input.low} to ${input.high}${unit}`.replaceAll('-', '−')
  return (
    <TextField
      id={`in-${input.name}`}
      label={name}
      value={value}
      set={set}
      numeric={!input.text}
      unit={input.unit}
      wrong={problem}
      hint={input.text ? undefined : range}
      autoCapitalize="off"
      maxLength={20}
    />
  )
}

const tones: Record<string, string> = {
  good: 'text-verdigris-text',
  waits: 'text-marigold-text',
  bad: 'text-oxide-text',
}
const signs: Record<string, string> = { good: 'inside', waits: 'waits', bad: 'beyond' }

function Outcome({ result, stale }: { result: SumResult; stale: boolean }) {
  return (
    <div aria-live="polite" className={stale ? 'opacity-50' : ''}>
      <dl className="grid grid-cols-[repeat(auto-fill,minmax(158px,1fr))] gap-2">
        {result.figures.map((f) => (
          <FigureTile key={f.code + f.label} figure={f} />
        ))}
      </dl>
      {result.says.map((s) => (
        <p key={s.code} className="mt-2">
          {s.text}
        </p>
      ))}
    </div>
  )
}

function FigureTile({ figure }: { figure: SumFigure }) {
  return (
    <div className={`rounded-part border px-3 py-2 ${figure.main ? 'border-ink' : 'border-line'}`}>
      <dt className="text-small text-lead">{figure.label}</dt>
      <dd className={`num ${figure.main ? 'text-figure font-bold' : 'text-sign'} ${tones[figure.tone ?? ''] ?? ''}`}>
        {figure.text}
        {figure.tone && <span className="sr-only">, {signs[figure.tone]}</span>}
      </dd>
    </div>
  )
}

type OnwardsProps = { card: SumCard; inputs: Inputs; result: SumResult }

/** Where a result goes: a link that keeps the inputs, a reading, a job. */
function Onwards({ card, inputs, result }: OnwardsProps) {
  const [params] = useSearchParams()
  const [copied, setCopied] = useState(false)
  const from = params.get('job')
  const link = () => {
    const kept = new URLSearchParams(inputs)
    void navigator.clipboard?.writeText(`${location.origin}/sums/${card.id}?${kept.toString()}`).then(() => {
      setCopied(true)
      setTimeout(() => setCopied(false), 2000)
    })
  }
  return (
    <div className="no-print flex flex-wrap items-center gap-2">
      {from ? (
        <ToJob job={from} card={card} inputs={inputs} line={result.line} />
      ) : (
        <ChooseJob card={card} inputs={inputs} line={result.line} />
      )}
      <Button onClick={link}>
        {copied ? <Check size={18} aria-hidden="true" /> : <Copy size={18} aria-hidden="true" />}
        <span aria-live="polite">{copied ? 'Link copied' : 'Copy a link that keeps these inputs'}</span>
      </Button>
    </div>
  )
}

type ToJobProps = { job: string; card: SumCard; inputs: Inputs; line?: string }

function ToJob({ job, card, inputs, line }: ToJobProps) {
  const { data: page } = useJob(job)
  const keep = useKeepSum(job)
  const name = page?.vehicle?.plate || 'the job'
  return (
    <>
      {line && (
        <Button asChild weight="main">
          <Link to={`/jobs/${job}?line=${encodeURIComponent(line)}`}>Take it as a reading of {name}</Link>
        </Button>
      )}
      <Button
        weight={line ? 'plain' : 'main'}
        disabled={keep.isPending}
        onClick={() => keep.mutate({ sum: card.id, title: card.title, inputs })}
      >
        {keep.isSuccess ? (keep.data ? `Kept with ${name}` : `To be sent to ${name}`) : `Keep this sum with ${name}`}
      </Button>
      <Button asChild>
        <Link to={`/jobs/${job}`}>Back to {name}</Link>
      </Button>
      <Trouble error={keep.error} />
    </>
  )
}

/** Without a job: the open ones are offered. */
function ChooseJob({ card, inputs, line }: { card: SumCard; inputs: Inputs; line?: string }) {
  const { data: today } = useToday()
  const [job, setJob] = useState('')
  const open = today?.open ?? []
  if (open.length === 0) return null
  return (
    <>
      <SelectField
        label="Pull it into"
        value={job}
        set={setJob}
        options={[
          { code: '', word: 'a job' },
          ...open.map((r) => ({ code: r.job.id, word: r.plate || r.description || 'battery by itself' })),
        ]}
      />
      {job && <ToJob key={job} job={job} card={card} inputs={inputs} line={line} />}
    </>
  )
}

const tags: Record<string, string> = { P: 'published', CP: 'common practice', M: 'from memory', C: 'computed' }

function Sources({ sources }: { sources: Source[] }) {
  return (
    <section aria-label="Sources" className="text-small text-lead">
      <h2 className="font-bold">Where its figures are from</h2>
      <ul>
        {sources.map((s, i) => (
          <li key={i}>
            {tags[s.kind]}: {s.kind === 'P' ? `${s.title}${s.note ? ` (${s.note})` : ''}` : s.note || s.title}
          </li>
        ))}
      </ul>
      <Link to="/figures" className="underline">
        Every figure and its source
      </Link>
    </section>
  )
}
