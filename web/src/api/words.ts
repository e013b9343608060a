import { useChoices } from './jobs'

/** The trade's word for a code, from the core's catalogue. */
export function useWord(): (code: string) => string {
  const { data } = useChoices()
  return (code) => data?.words[code] ?? code.replaceAll('_', ' ')
}

/** The word for a kind of reading, where its code means something else as well. */
export function useKindWord(): (kind: string) => string {
  const { data } = useChoices()
  return (kind) => data?.words[`kind_${kind}`] ?? data?.words[kind] ?? kind.replaceAll('_', ' ')
}
