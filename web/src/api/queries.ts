/** What the server knows, kept by what was asked. It is asked again when it is told that something changed, never by itself. */
import { QueryClient } from '@tanstack/vue-query'
import type { Ref } from 'vue'

export const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: Infinity,
      gcTime: 60_000,
      retry: false,
      refetchOnWindowFocus: false,
      refetchOnReconnect: false,
      networkMode: 'always',
      structuralSharing: false, // answers may be large
    },
  },
})

/** Until an answer about a project is there, the one before is shown: of the same project, which stands second in a key. */
export const ofSameProject =
  (key: Readonly<Ref<readonly unknown[]>>) =>
  <T>(before: T | undefined, of: { queryKey: readonly unknown[] } | undefined): T | undefined =>
    of?.queryKey[1] === key.value[1] ? before : undefined
