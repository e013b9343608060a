// What is wrong, said where it is wrong, with what would be taken instead.
import { ApiProblem, wordsFor } from '../api/client'
import { Button } from './ui/button'

export function Trouble({ error, onSuggest }: { error: unknown; onSuggest?: (text: string) => void }) {
  if (!error) return null
  const fields = error instanceof ApiProblem ? error.fields : []
  return (
    <div role="alert" className="rounded-part border-[1.5px] border-oxide bg-oxide-wash px-3 py-2 text-ink">
      {fields.length > 0 ? (
        <ul>
          {fields.map((f, i) => (
            <li key={i}>
              {f.text}
              {onSuggest &&
                f.suggest.map((s) => (
                  <Button key={s} className="ml-2" onClick={() => onSuggest(s)}>
                    Take {s}
                  </Button>
                ))}
            </li>
          ))}
        </ul>
      ) : (
        <p>{wordsFor(error)}</p>
      )}
      {error instanceof ApiProblem && error.status >= 500 && (
        <p className="text-small">
          Request <span className="num">{error.requestId}</span>
        </p>
      )}
    </div>
  )
}
