// Every part of the kit in both themes, to look at and to test. It opens in development and
// in the demo workshop.
import { Dialog } from 'radix-ui'
import { useState } from 'react'
import type { Scene, ScenePart, SymbolName } from '../../api/types'
import { Sheet } from '../../parts/ui/sheet'
import { Glyph } from '../../parts/glyph'
import { SceneView } from '../../parts/scene/scene'
import { symbols } from '../../parts/scene/symbols'
import { CurvePicture } from '../../parts/plot/curve'
import { Shell } from '../../parts/shell'
import { Button } from '../../parts/ui/button'
import { AnyOf, Chip, Chips, OneOf, OneOrNone } from '../../parts/ui/chips'
import { Combobox } from '../../parts/ui/combobox'
import { SelectField, TextField } from '../../parts/ui/field'
import { Stepper } from '../../parts/ui/stepper'
import { Table } from '../../parts/ui/table'
import { useToast } from '../../parts/ui/toast'
import { Tip } from '../../parts/ui/tooltip'

const kinds = ['flooded', 'EFB', 'AGM', 'gel'].map((word) => ({ code: word, word }))

const curve = {
  x_unit: 'days',
  y_unit: '%',
  marks: [[30, 71]],
  lines: [
    { label: 'with its drain', points: line(100, -1), upper: line(100, -0.7) },
    { label: 'least to start it', points: line(40, 0), limit: true },
  ],
}

function line(from: number, by: number): [number, number][] {
  return Array.from({ length: 13 }, (_, i) => [i * 5, from + by * i * 5])
}

const actions = [
  'keep',
  'charge_and_retest',
  'clean_and_retest',
  'replace',
  'stop_unsafe',
  'look_elsewhere',
  'more_tests',
]

export function KitScreen() {
  return (
    <Shell>
      <main className="grid flex-1 lg:grid-cols-2">
        <h1 className="sr-only">The kit</h1>
        {(['light', 'dark'] as const).map((theme) => (
          <section
            key={theme}
            data-theme={theme}
            aria-label={theme}
            className="grid content-start gap-5 bg-sheet p-5 text-ink"
          >
            <h2 className="text-head font-bold">{theme}</h2>
            <Parts theme={theme} />
          </section>
        ))}
      </main>
    </Shell>
  )
}

function Parts({ theme }: { theme: string }) {
  const [text, setText] = useState('')
  const [one, setOne] = useState('flooded')
  const [some, setSome] = useState<string[]>(['AGM'])
  const [amps, setAmps] = useState(6)
  const say = useToast()
  return (
    <>
      <Chips name={`Buttons, ${theme}`}>
        <Button weight="main">Main</Button>
        <Button weight="outline">Outline</Button>
        <Tip says="What it does, in a word">
          <Button>Plain</Button>
        </Tip>
        <Button disabled>Not now</Button>
        <Chip onClick={() => say('Said once, and gone by itself.')}>Say something</Chip>
      </Chips>
      <OneOf name={`One of several, ${theme}`} options={kinds} value={one} pick={setOne} />
      <OneOrNone name={`One or none, ${theme}`} quiet={false} options={kinds} value={one} pick={setOne} />
      <AnyOf name={`Any of several, ${theme}`} options={kinds} values={some} set={setSome} />
      <div className="grid grid-cols-2 gap-3">
        <TextField label={`Text, ${theme}`} value={text} set={setText} hint="what is meant" />
        <TextField label={`Figure, ${theme}`} value={text} set={setText} wrong="10 to 3000 A" numeric />
        <SelectField label={`Choice, ${theme}`} value={one} set={setOne} options={kinds} />
        <Combobox
          label={`Known, ${theme}`}
          value={text}
          set={setText}
          items={kinds.filter((k) => text !== '' && k.word.toLowerCase().startsWith(text.toLowerCase()))}
          id={(k) => k.code}
          say={(k) => k.word}
          show={(k) => k.word}
          take={(k) => setText(k.word)}
        />
      </div>
      <Stepper name={`Amperes, ${theme}`} value={amps} set={setAmps} least={1} most={25} unit="A" />
      <Table
        caption={`Chargers, ${theme}`}
        columns={[
          { name: 'Charger', of: (k) => k.word },
          { name: 'Amperes', of: () => amps, figure: true },
        ]}
        rows={kinds.slice(0, 2)}
        id={(k) => k.code}
      />
      <div className="flex flex-wrap gap-2">
        {actions.map((action) => (
          <Glyph key={action} action={action} size={44} />
        ))}
      </div>
      <Gallery theme={theme} />
      <CurvePicture curve={curve} title={`Standing, ${theme}`} />
      <Dialog.Root>
        <Dialog.Trigger asChild>
          <Button className="justify-self-start">Open a sheet, {theme}</Button>
        </Dialog.Trigger>
        <Sheet title="A sheet" about="With its description.">
          <p>What it holds.</p>
        </Sheet>
      </Dialog.Root>
    </>
  )
}

/** Every symbol a scene may have, by its name. */
function Gallery({ theme }: { theme: string }) {
  return (
    <ul className="grid grid-cols-[repeat(auto-fill,minmax(128px,1fr))] gap-2" aria-label={`Symbols, ${theme}`}>
      {(Object.keys(symbols) as SymbolName[]).map((symbol) => (
        <li key={symbol} className="grid justify-items-center gap-1 rounded-part border border-line p-2">
          <SceneView scene={alone(symbol)} className="h-28 w-full" />
          <span className="text-center text-small text-lead">{symbol.replaceAll('_', ' ')}</span>
        </li>
      ))}
    </ul>
  )
}

function alone(symbol: SymbolName): Scene {
  const part: ScenePart = {
    ...{
      id: symbol,
      symbol,
      state: '',
      sign: symbol === 'cable_end' ? '−' : '+',
      marks: [],
      tests: [],
      name: '',
      value: '',
      hit: '',
      line: '',
    },
    ...{ x: 20, y: 24, w: 80, h: 72 },
  }
  const says = { code: '', values: {}, readings: [], text: symbol.replaceAll('_', ' ') }
  return { code: symbol, width: 120, height: 120, parts: [part], leads: [], focus: [0, 0, 0, 0], says }
}
