/** The elements of joints on a face as they are drawn: where each is, what it takes, how far it lies from edges and others. */
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import type { FaceView, JointView } from '@/api/client'
import { useSelection } from '@/stores/selection'
import { useProject } from '@/stores/project'
import { moved, nearestBetween, sideways, type Way } from './nearest'

type Outline = JointView['room']
export interface Spot {
  key: string
  joint: JointView
  index: number
  letter: string
  /** the pole of a magnet that looks at the viewer */
  pole: string
  u: number
  v: number
  bad: boolean
  /** what it takes of the face, where it is now */
  shape: Outline
}
/** An element in hand. */
export interface Held {
  joint: string
  index: number
  u: number
  v: number
}

export function useSpots(
  joints: Readonly<Ref<JointView[]>>,
  face: Readonly<Ref<FaceView | null>>,
  mirrored: Readonly<Ref<boolean>>,
) {
  const project = useProject()
  const selection = useSelection()
  const dragging = shallowRef<Held | null>(null)
  const chosen = ref('')
  const spots = computed<Spot[]>(() =>
    joints.value.flatMap((joint) =>
      joint.places.map((place, index) => {
        const drawn = dragging.value
        const here =
          drawn?.joint === joint.id && drawn.index === index ? ([drawn.u, drawn.v] as const) : place
        const kind = `${joint.kind[0]!.toUpperCase()}${joint.kind.slice(1)}`
        const bad = joint.findings.some(
          (f) => f.severity === 'must-fix' && f.message.startsWith(`${kind} ${joint.letters[index]} `),
        )
        const [du, dv] = [here[0] - place[0], here[1] - place[1]]
        return {
          key: `${joint.id}-${index}`,
          joint,
          index,
          letter: joint.letters[index]!,
          pole: poleSeen(joint, index),
          u: here[0],
          v: here[1],
          bad,
          shape: moved(joint.shapes?.[index] ?? [], du, dv),
        }
      }),
    ),
  )
  /** Seen from B one looks at the magnets of A; from the other side at those of B, which turn the other pole. */
  function poleSeen(joint: JointView, index: number): string {
    const pole = joint.poles?.[index]
    if (!pole) return ''
    return (pole === 'n') !== mirrored.value ? 'N' : 'S'
  }
  /** what follows the outline and has no place of its own */
  const rims = computed(() => joints.value.filter((j) => j.places.length === 0 && j.shapes?.length))

  /** Distances of the spot in hand: to the nearest edge of the face, and to the nearest other joint. */
  const distances = computed<Way[]>(() => {
    const spot = spots.value.find((s) => s.key === chosen.value)
    if (!spot || !face.value) return []
    const edge = nearestBetween(spot.shape as never, face.value.outline as never)
    const others = [
      ...spots.value.filter((s) => s !== spot).map((s) => s.shape),
      ...rims.value.flatMap((r) => r.shapes ?? []),
    ]
    const near = others.flatMap((o) => nearestBetween(spot.shape as never, o as never) ?? [])
    near.sort((p, q) => p.long - q.long)
    const ways = [edge, near[0]].filter((w): w is Way => !!w && w.long > 0.01)
    // what runs out of the face touches its edge; then its sides count
    const runsOut = edge !== null && edge.long <= 0.01
    return runsOut
      ? [...ways, ...sideways(spot.shape as never, face.value.outline as never, [spot.u, spot.v])]
      : ways
  })

  // what was dragged stays where it was put until the build with it is there
  watch([() => project.build, () => selection.face], () => (dragging.value = null))
  watch(
    () => selection.face,
    () => (chosen.value = ''),
  )

  return { spots, rims, distances, dragging, chosen }
}
