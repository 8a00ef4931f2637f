/** The search for resting faces: asked for one piece or all, remembered until the piece or what counts changes. */
import { computed, ref, shallowRef, type Ref } from 'vue'
import { api, got, type JobView, type PieceView, type Schemas } from '@/api/client'
import { finished } from '@/api/jobs'
import { useProject } from '@/stores/project'

export type Candidate = Schemas['CandidateView']
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
  const found = shallowRef<Record<string, Candidate[]>>({})
  const counts = computed(() => JSON.stringify(weights.value ?? preset.value))
  const keyOf = (p: PieceView) => `${p.mesh} ${p.printer} ${counts.value}`
  const candidates = computed(() => (piece.value ? (found.value[keyOf(piece.value)] ?? null) : null))

  async function ask(key: string | null): Promise<Schemas['OrientedPiece'][]> {
    const id = project.revision?.project_id
    if (!id || busy.value) return []
    busy.value = key ? 'one' : 'all'
    const meshes = Object.fromEntries(project.pieces.map((p) => [p.key, keyOf(p)]))
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
      const more = Object.fromEntries(answer.pieces.map((p) => [meshes[p.key] ?? '', p.candidates]))
      found.value = { ...found.value, ...more }
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

  return { preset, weights, busy, candidates, ask, stop }
}
