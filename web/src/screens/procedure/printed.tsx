// One order on paper: every step with its picture, its sentence and its caution.
import type { AttemptPage } from '../../api/types'
import { SceneView } from '../../parts/scene/scene'

export function PrintedOrder({ page, plate }: { page: AttemptPage; plate: string }) {
  return (
    <article className="only-print">
      <h1 className="text-head font-bold">
        {page.title} {plate}
      </h1>
      <p>{[page.sits, page.way.word].filter(Boolean).join(', ')}</p>
      <ol className="grid grid-cols-3 gap-4 pt-3">
        {page.steps.map((s) => (
          <li key={s.number} className="break-inside-avoid border-t border-ink pt-1">
            <SceneView scene={s.drawing} className="max-h-[5.4cm] w-full" />
            <p className="font-bold">
              {s.number}. {s.text}
            </p>
            {s.why && <p className="text-small">{s.why}</p>}
            {s.cautions.map((c) => (
              <p key={c.id} className="text-small">
                {c.text}
              </p>
            ))}
          </li>
        ))}
      </ol>
    </article>
  )
}
