// The circuit around the battery: its joints and cables as they are measured while
// it cranks or charges, each with the drop found there. Each joint is a button of
// the list beside the drawing as well.
import type { Scene } from '../../../api/types'
import { useWord } from '../../../api/words'
import { SceneView } from '../../../parts/scene/scene'
import { Chip } from '../../../parts/ui/chips'

type Props = { scene: Scene; setLine: (line: string) => void }

export function Circuit({ scene, setLine }: Props) {
  const word = useWord()
  const joints = scene.parts.filter((p) => p.line !== '')
  return (
    <section aria-label="Drops over the joints">
      <h2 className="text-small font-bold text-lead">Drops over the joints: tap one, then type the volts</h2>
      <div className="grid items-center gap-3 md:grid-cols-[minmax(0,27rem)_1fr]">
        <SceneView scene={scene} onTap={(hit) => setLine(joints.find((p) => p.hit === hit)?.line ?? '')} />
        <ul className="flex flex-wrap gap-1.5 md:grid md:grid-cols-2" aria-label="Joints">
          {joints.map((p) => (
            <li key={p.id}>
              <Chip className="w-full text-small" onClick={() => setLine(p.line)}>
                <span>
                  {word(p.hit)}
                  {p.value !== '' && (
                    <b className={`num block ${p.state === 'bad' ? 'text-oxide-text' : 'text-verdigris-text'}`}>
                      {p.value}
                    </b>
                  )}
                </span>
              </Chip>
            </li>
          ))}
        </ul>
      </div>
    </section>
  )
}
