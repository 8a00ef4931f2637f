/** The search for resting faces: asked for one piece or all, remembered until the piece or what counts changes. */
import { computed, ref, shallowRef, type Ref } from 'vue'
import { useAsking } from '@/api/asking'
import { api, type PieceView, type Schemas } from '@/api/client'
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
  const asking = useAsking()
  const found = shallowRef<Record<string, Oriented>>({})
  const counts = computed(() => JSON.stringify(weights.value ?? preset.value))
  const keyOf = (p: PieceView) => `${p.key} ${p.mesh} ${p.printer} ${counts.value} ${p.rest.down.join()}`
  /** what the answer for the chosen piece is kept under */
  const slot = computed(() => (piece.value ? keyOf(piece.value) : ''))
  const answer = computed(() => found.value[slot.value] ?? null)
  const candidates = computed(() => answer.value?.candidates ?? null)

  /** Search for one piece (its key) or all that are not locked; what was found. */
  async function ask(key: string | null): Promise<Schemas['OrientView'] | null> {
    const id = project.revision?.project_id
    if (!id || asking.busy.value) return null
    const own = project.pieces.find((p) => p.key === key)
    const under = own && keyOf(own)
    const params = { path: { project_id: id } }
    const body = { piece: key, preset: preset.value, weights: weights.value }
    let got: Schemas['OrientView'] | null = null
    try {
      await asking.ask<Schemas['OrientView']>(
        () => api.POST('/api/projects/{project_id}/orient', { params, body }),
        (name) => api.GET('/api/results/orient/{name}', { params: { path: { name } } }),
        (answer) => {
          got = answer
          for (const text of answer.said ?? []) project.say(text)
          const one = answer.pieces.find((p) => p.key === key)
          if (one && under) found.value = { ...found.value, [under]: one }
        },
      )
    } catch (error) {
      await project.refused(error)
    }
    return got
  }

  return { preset, weights, busy: asking.busy, slot, answer, candidates, ask, stop: asking.stop }
}
