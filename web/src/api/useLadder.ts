/** A fit ladder being made: asked for, waited for, and what came of it. */
import { ref, shallowRef } from 'vue'
import { useProject } from '@/stores/project'
import { got, type Answer, type JobView, type Schemas } from './client'
import { finished } from './jobs'
import { resultOf } from './operations'

export function useLadder() {
  const project = useProject()
  const busy = ref(false)
  const name = ref('')
  const made = shallowRef<Schemas['LadderView'] | null>(null)

  /** What was made of a request; none where it was refused, which is said. */
  async function make(ask: () => Promise<Answer>): Promise<Schemas['LadderView'] | null> {
    if (busy.value) return null
    busy.value = true
    try {
      name.value = await finished(got<JobView>(await ask()))
      return (made.value = await resultOf('ladder', name.value))
    } catch (error) {
      await project.refused(error)
      return null
    } finally {
      busy.value = false
    }
  }

  return { busy, name, made, make }
}
