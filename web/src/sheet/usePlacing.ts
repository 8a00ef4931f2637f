/** Placing elements of joints by hand: dragged with snapping, or moved by arrow keys. */
import { useDebounceFn } from '@vueuse/core'
import type { Ref } from 'vue'
import type { JointView, Plan } from '@/api/client'
import { useProject } from '@/stores/project'
import { snapped } from './snap'
import type { Held, Spot } from './useSpots'

interface Sheet {
  spots: Readonly<Ref<Spot[]>>
  joints: Readonly<Ref<JointView[]>>
  dragging: Ref<Held | null>
  chosen: Ref<string>
  mirrored: Readonly<Ref<boolean>>
  /** the place on the face under the pointer */
  where: (event: PointerEvent) => readonly [number, number] | null
  box: Readonly<Ref<Parameters<typeof snapped>[2] | null>>
  scale: Readonly<Ref<number>>
}

export function usePlacing({ spots, joints, dragging, chosen, mirrored, where, box, scale }: Sheet) {
  const project = useProject()
  let grabbed: { joint: string; index: number } | null = null
  function grab(event: PointerEvent, spot: Spot): void {
    chosen.value = spot.key
    if (!project.upToDate) return
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
    grabbed = { joint: spot.joint.id, index: spot.index }
  }
  function drag(event: PointerEvent): void {
    const b = box.value
    const at = where(event)
    if (!grabbed || !b || !at) return
    const [u, v] = at
    const others = spots.value.filter((s) => !(s.joint.id === grabbed!.joint && s.index === grabbed!.index))
    const [su, sv] = event.shiftKey ? [u, v] : snapped(u, v, b, others, 7 / scale.value)
    dragging.value = { ...grabbed, u: Math.round(su * 100) / 100, v: Math.round(sv * 100) / 100 }
  }
  function release(): void {
    grabbed = null
    const drawn = dragging.value
    if (drawn) void place(drawn.joint, drawn.index, drawn.u, drawn.v)
  }
  async function place(jointId: string, index: number, u: number, v: number): Promise<void> {
    const view = joints.value.find((j) => j.id === jointId)
    if (!view) return
    const places = view.places.map((p, i) => (i === index ? [u, v] : p)) as [number, number][]
    const what = `Moved ${view.kind} ${view.letters[index]} on ${view.face_label}`
    const kept = await project.edit(what, (plan: Plan) => {
      plan.joints = plan.joints?.map((j) => (j.id === jointId ? { ...j, places } : j))
    })
    if (!kept) dragging.value = null
  }
  const soon = useDebounceFn(release, 500)
  function nudge(event: KeyboardEvent, spot: Spot): void {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key]
    if (!way) return
    event.preventDefault()
    const by = event.shiftKey ? 5 : 0.5
    const right = mirrored.value ? -way[0]! : way[0]!
    dragging.value = {
      joint: spot.joint.id,
      index: spot.index,
      u: spot.u + right * by,
      v: spot.v + way[1]! * by,
    }
    void soon()
  }

  return { grab, drag, release, nudge }
}
