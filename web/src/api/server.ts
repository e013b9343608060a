// The server as its owner sees it.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { client, take } from './client'

const key = ['server']

/** How often a backup under way is asked for, in milliseconds. */
const askEvery = 1000

export function useServer() {
  return useQuery({
    queryKey: key,
    queryFn: async () => await take(client.GET('/server')),
    refetchInterval: (query) => (query.state.data?.backups?.since ? askEvery : false),
  })
}

/** Has a backup made now. */
export function useBackUp() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: async () => await take(client.POST('/server/backups', {})),
    onSuccess: async () => {
      // It begins a moment later.
      await new Promise((resolve) => setTimeout(resolve, askEvery / 2))
      await cache.invalidateQueries({ queryKey: key })
      await cache.invalidateQueries({ queryKey: ['hello'] })
    },
  })
}

/** Takes away the file of a backup that was asked for. */
export function useDropBackup() {
  const cache = useQueryClient()
  return useMutation({
    mutationFn: async (backup: string) =>
      await take(client.DELETE('/server/backups/{backup}', { params: { path: { backup } } })),
    onSuccess: async (state) => {
      cache.setQueryData(key, state)
      await cache.invalidateQueries({ queryKey: ['hello'] })
    },
  })
}
