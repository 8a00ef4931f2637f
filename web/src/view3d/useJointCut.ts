/** The chosen mating face turned to the viewer, and the cut through its first joint. */
import { computed, watch, type Ref } from 'vue'
import type { FaceView, Vec3 } from '@/api/client'
import { useSelection } from '@/stores/selection'
import { useViewport } from '@/stores/viewport'
import { useProject } from '@/stores/project'

export function useJointCut(joining: Readonly<Ref<boolean>>) {
  const selection = useSelection()
  const viewport = useViewport()
  const project = useProject()
  const face = computed(() =>
    joining.value ? project.faces.find((f) => f.id === selection.face) : undefined,
  )
  /** Turn the chosen mating face to the viewer: piece A is looked at from where piece B was. */
  const facing = computed(() => viewport.only?.length === 1)
  function faceOn(): void {
    const at = face.value
    const again = facing.value
    allAgain()
    if (!at || again) return
    viewport.only = [at.a]
    viewport.lookAt = { eye: at.frame.n }
  }
  function allAgain(): void {
    viewport.cutPlane = viewport.only = null
  }
  /** Cut away through the first joint of the face, across its outline, and look straight at the cut:
   * the inside shows as a section only from there. */
  function cutThrough(): void {
    const at = face.value
    const again = viewport.cutPlane
    allAgain()
    if (at && !again) cutAt(at)
  }
  const cutJoint = computed(() => project.joints.find((j) => j.face === face.value?.id))
  // a joint that was moved, or is of another kind now, is cut through where it is now
  watch(
    () => [face.value?.id, cutJoint.value?.kind, cutJoint.value?.places, cutJoint.value?.motions].join(';'),
    () => face.value && viewport.cutPlane && viewport.only?.length === 2 && cutAt(face.value),
  )
  function cutAt(at: FaceView): void {
    const { origin, u, v, n } = at.frame
    const joint = cutJoint.value
    const flat = (joint?.shapes?.[0]?.[0]?.[0] ?? at.outline[0]?.[0] ?? []) as [number, number][]
    const place = joint?.places[0]
    const middle = mean(flat)
    const [x, y] = joint?.kind === 'key' ? middle : (place ?? middle)
    const point = origin.map((o, k) => o + x * u[k]! + y * v[k]!) as Vec3
    // across a groove, seen from the end where it does not lock; a key is cut flat, a peg along its axis
    const slide = joint?.motions?.find((w) => Math.abs(dot(w, n)) < 0.1)
    let normal: Vec3 = v
    if (joint?.kind === 'key' && place) normal = inPlane(u, v, [middle[0] - place[0], middle[1] - place[1]])
    else if (slide) normal = slide.map((w) => -w) as Vec3
    if (joint?.axis) {
      viewport.opened = null
      cutAcross(joint.axis.along, joint.axis.at, at, joint.deep_mm)
      return
    }
    cutAcross(normal, point, at, joint?.deep_mm)
  }
  function cutAcross(normal: Vec3, point: Vec3, at: FaceView, deep = 8): void {
    viewport.spread = 0
    viewport.cutPlane = { normal, offset: dot(point, normal) }
    viewport.only = [at.a, at.b]
    viewport.lookAt = { eye: normal, at: point, reach: 12 + 2.5 * deep }
  }
  watch(() => selection.face, allAgain)

  return { face, facing, faceOn, cutThrough }
}

const dot = (p: readonly number[], q: readonly number[]) => p.reduce((sum, v, k) => sum + v * q[k]!, 0)
const inPlane = (u: Vec3, v: Vec3, [x, y]: [number, number]): Vec3 => {
  const long = Math.hypot(x, y) || 1
  return u.map((c, k) => -(x * c + y * v[k]!) / long) as Vec3
}
const mean = (points: [number, number][]): [number, number] => [
  points.reduce((s, p) => s + p[0], 0) / Math.max(1, points.length),
  points.reduce((s, p) => s + p[1], 0) / Math.max(1, points.length),
]
