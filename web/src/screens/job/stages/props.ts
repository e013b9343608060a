import type { Assessment, BatteryOnJob, JobPage, Picture } from '../../../api/types'

/** What the surface of every stage is given. */
export type StageProps = {
  page: JobPage
  battery: BatteryOnJob
  assessment: Assessment
  picture: Picture
  setLine: (line: string) => void
  /** Keeps a whole line at once: an answer by one tap. */
  keepLine: (line: string) => void
  zone?: string
}
