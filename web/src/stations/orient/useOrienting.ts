/** The search for resting faces: asked for one piece or all, remembered until the piece or what counts changes. */
import { computed, ref, shallowRef, type Ref } from 'vue'
import { api, got, type JobView, type PieceView, type Schemas } from '@/api/client'
import { finished } from '@/api/jobs'
import { useProject } from '@/stores/project'

export type Candidate = Schemas['CandidateView']
export type Oriented = Schemas['OrientedPiece']
export type Weights = Schemas['Weights']
export type Preset = NonNullable<Schemas['OrientWish']['preset']>
export const PRESETS: Preset[] = ['least support', 'best surface', 'strongest joints', 'fastest']

export function useOrienting(piece: Readonly<Ref<PieceView | null>>) {
  const project = useProject()
  const preset = ref<Preset>('least support')
  /** typed weights, instead of a preset's */
  const weights = shallowRef<Weights | null>(null)
  const busy = ref<'' | 'one' | 'all'>('')
  const job = ref('')
  const found = shallowRef<Record<string, Oriented>>({})
  const counts = computed(() => JSON.stringify(weights.value ?? preset.value))
  const keyOf = (p: PieceView) => `${p.key} ${p.mesh} ${p.printer} ${counts.value} ${p.rest.down.join()}`
  const answer = computed(() => (piece.value ? (found.value[keyOf(piece.value)] ?? null) : null))
  const candidates = computed(() => answer.value?.candidates ?? null)

  async function ask(key: string | null): Promise<Oriented[]> {
    const id = project.revision?.project_id
    if (!id || busy.value) return []
    busy.value = key ? 'one' : 'all'
    const own = project.pieces.find((p) => p.key === key)
    const slot = own && keyOf(own)
    try {
      const asked = got<JobView>(
        await api.POST('/api/projects/{project_id}/orient', {
          params: { path: { project_id: id } },
          body: { piece: key, preset: preset.value, weights: weights.value },
        }),
      )
      job.value = asked.id
      const name = await finished(asked)
      const answer = got<Schemas['OrientView']>(
        await api.GET('/api/orientations/{name}', { params: { path: { name } } }),
      )
      const one = answer.pieces.find((p) => p.key === key)
      for (const text of answer.said ?? []) project.say(text)
      if (one && slot) found.value = { ...found.value, [slot]: one }
      return answer.pieces
    } catch (error) {
      await project.refused(error)
      return []
    } finally {
      busy.value = ''
      job.value = ''
    }
  }
  /** Stop the search under way. */
  async function stop(): Promise<void> {
    if (job.value) await api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: job.value } } })
  }

  return { preset, weights, busy, answer, candidates, ask, stop }
}
