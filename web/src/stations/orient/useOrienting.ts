/** The search for resting faces: asked for one piece or all, remembered until the piece or what counts changes. */
import { computed, ref, shallowRef, type Ref } from 'vue'
import { useOperation } from '@/api/operations'
import { type PieceView, type Schemas } from '@/api/client'
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
  const asking = useOperation()
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
    const body = { piece: key, preset: preset.value, weights: weights.value }
    try {
      const { result } = await asking.ask('orient', id, body)
      for (const text of result.said ?? []) project.say(text)
      const one = result.pieces.find((p) => p.key === key)
      if (one && under) found.value = { ...found.value, [under]: one }
      return result
    } catch (error) {
      await project.refused(error)
      return null
    }
  }

  return { preset, weights, busy: asking.busy, slot, answer, candidates, ask, stop: asking.stop }
}
