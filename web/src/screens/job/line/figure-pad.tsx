// Figures by thumb into whatever line was begun: where it left a gap, or behind it, with
// the unit that the core takes for the likely one.
import { useCompletions } from '../../../api/bench'
import { KeepKey, Key, Step, type LineKeys } from './keypad'

export function FigurePad({ line, ...keeps }: LineKeys) {
  const { text } = line
  const at = line.gap ?? text.length
  const { data: completions } = useCompletions(text)
  const before = text.slice(0, at)
  const figure = /-?\d+(\.\d*)?$/.exec(before)?.[0] ?? ''
  const unit = at === text.length ? unitOf(figure, completions?.list[0]?.insert) : ''

  const put = (head: string) => line.type(head + text.slice(at), head.length)
  const step = (sign: number) => {
    const places = (figure.split('.')[1] ?? '').length
    const stepped = (Number(figure) + sign * 10 ** -places).toFixed(places)
    put(before.slice(0, before.length - figure.length) + stepped)
  }
  const press = (key: string) => put(key === 'back' ? before.slice(0, -1) : before + key)
  return (
    <div data-keypad className="no-print border-t border-line bg-sheet px-3 pt-2 pb-3">
      <div className="grid grid-cols-4 gap-1.5">
        {['7', '8', '9', 'back', '4', '5', '6'].map((k) => (
          <Key key={k} label={k} press={press} />
        ))}
        <Step sign={-1} disabled={figure === ''} step={step} />
        {['1', '2', '3'].map((k) => (
          <Key key={k} label={k} press={press} />
        ))}
        <Step sign={1} disabled={figure === ''} step={step} />
        <Key label="." press={press} />
        <Key label="0" press={press} />
        <button
          type="button"
          className="num min-h-target rounded-part border-[1.5px] border-line bg-paper text-sign"
          aria-label={unit ? `unit ${unit.trim()}` : 'blank'}
          onClick={() => press(unit ? `${unit} ` : ' ')}
        >
          {unit.trim() || '␣'}
        </button>
        <KeepKey {...keeps} />
      </div>
    </div>
  )
}

/** The unit in a continuation of a figure, such as " v" of "14.3 v". */
function unitOf(figure: string, insert = ''): string {
  return figure !== '' && insert.startsWith(figure) ? insert.slice(figure.length) : ''
}
