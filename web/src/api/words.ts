import { useCallback } from 'react'
import { useChoices } from './jobs'

/** The trade's word for a code, from the core's catalogue. */
export function useWord(): (code: string) => string {
  const words = useChoices().data?.words
  // The same from one drawing to the next: long lists are drawn anew only where something changed.
  return useCallback((code: string) => words?.[code] ?? code.replaceAll('_', ' '), [words])
}

/** The word for a kind of reading, where its code means something else as well. */
export function useKindWord(): (kind: string) => string {
  const { data } = useChoices()
  return (kind) => data?.words[`kind_${kind}`] ?? data?.words[kind] ?? kind.replaceAll('_', ' ')
}
