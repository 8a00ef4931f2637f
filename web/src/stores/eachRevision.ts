/** Asks something by itself, once for every revision that is built; what was stopped is not begun again. */
import { watch } from 'vue'
import { useProject } from './project'

/** `known` tells whether the answer for the revision that is shown is there, `busy` whether it is being asked for. */
export function askEachRevision(known: () => boolean, busy: () => boolean, ask: () => Promise<void>): void {
  const project = useProject()
  let tried = -1
  watch(
    () =>
      [
        project.upToDate && project.build?.state === 'whole',
        project.revision?.revision ?? -1,
        busy(),
      ] as const,
    ([ready, revision, asking]) => {
      if (!ready || asking || tried === revision || known()) return
      tried = revision
      void ask()
    },
    { immediate: true },
  )
}
