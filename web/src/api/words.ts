import { useChoices } from './jobs'

/** The trade's word for a code, from the core's catalogue. */
export function useWord(): (code: string) => string {
  const { data } = useChoices()
  return (code) => data?.words[code] ?? code.replaceAll('_', ' ')
}
