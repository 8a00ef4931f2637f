/** Joints as the Join station makes and changes them. */
import type { FaceView, Joint, Plan } from '@/api/client'
import { boundsOf } from '@/sheet/useSheet'

export type JointKind = Joint['kind']

export interface KindInfo {
  kind: JointKind
  /** on a button, such as “+ Pins” */
  name: string
  /** in the choice of kinds */
  says: string
  schema: string
  fields: string[]
  when: string
}

export const KINDS: readonly KindInfo[] = [
  {
    kind: 'pin',
    name: 'Pins',
    says: 'Pins, part of a piece',
    schema: 'PinJoint',
    fields: ['count', 'shape', 'diameter_mm', 'length_mm', 'one_way', 'tip_mm', 'ribs', 'collar_mm', 'on'],
    when: 'They find the place. Where the face has room.',
  },
  {
    kind: 'dowel',
    name: 'Dowels',
    says: 'Dowels, loose',
    schema: 'DowelJoint',
    fields: [
      'count',
      'shape',
      'diameter_mm',
      'length_mm',
      'in_a_mm',
      'one_way',
      'tip_mm',
      'collar_mm',
      'spares',
    ],
    when: 'As pins, where neither piece should print with something standing out.',
  },
  {
    kind: 'dovetail',
    name: 'Dovetail',
    says: 'Dovetail, slides in',
    schema: 'DovetailJoint',
    fields: [
      'count',
      'neck_mm',
      'head_mm',
      'height_mm',
      'along_deg',
      'ends',
      'stop_mm',
      'lock_mm',
      'lead_mm',
      'edge_mm',
      'on',
    ],
    when: 'Holds without glue. Where the pieces can slide past each other.',
  },
  {
    kind: 'key',
    name: 'Keys',
    says: 'Butterfly keys, loose',
    schema: 'KeyJoint',
    fields: ['count', 'surface', 'length_mm', 'end_mm', 'waist_mm', 'thickness_mm', 'below_mm', 'spares'],
    when: 'Draw the pieces together from a hidden side, such as the underside.',
  },
  {
    kind: 'lip',
    name: 'Lip',
    says: 'Lip, along the outline',
    schema: 'LipJoint',
    fields: ['runs', 'thickness_mm', 'height_mm', 'tip_mm', 'seal_mm', 'on'],
    when: 'Shells and boxes: the walls find each other all round.',
  },
  {
    kind: 'tongue',
    name: 'Tongue',
    says: 'Tongue and groove',
    schema: 'TongueJoint',
    fields: ['count', 'width_mm', 'height_mm', 'taper_deg', 'along_deg', 'ends', 'stop_mm', 'edge_mm', 'on'],
    when: 'Panels and long walls.',
  },
  {
    kind: 'thread',
    name: 'Thread',
    says: 'Thread, screws in',
    schema: 'ThreadJoint',
    fields: [
      'diameter_mm',
      'pitch_mm',
      'length_mm',
      'bore_mm',
      'hand',
      'starts',
      'lines_up',
      'tip_mm',
      'collar_mm',
      'plug',
      'spares',
      'on',
    ],
    when: 'Comes apart again and holds fast. Printed upright, a little grease on it.',
  },
  {
    kind: 'magnet',
    name: 'Magnets',
    says: 'Magnets, bought',
    schema: 'MagnetJoint',
    fields: [
      'count',
      'shape',
      'diameter_mm',
      'width_mm',
      'hole_mm',
      'thick_mm',
      'skin_mm',
      'held',
      'one_way',
      'jig',
    ],
    when: 'Doors and lids that come off again. Check each against the last before gluing.',
  },
  {
    kind: 'screw',
    name: 'Screws',
    says: 'Screws, bought',
    schema: 'ScrewJoint',
    fields: [
      'count',
      'size',
      'head',
      'into',
      'nut_from',
      'nut_deep_mm',
      'slot_deg',
      'insert_bore_mm',
      'insert_long_mm',
      'sunk_mm',
      'tilt_deg',
      'tilt_to_deg',
      'boss_mm',
      'on',
    ],
    when: 'Holds hard and comes apart again. The heads are seen, so put them where nobody looks.',
  },
  {
    kind: 'hinge',
    name: 'Hinge',
    says: 'Hinge, at an edge',
    schema: 'HingeJoint',
    fields: ['length_mm', 'knuckles', 'pin', 'pin_mm', 'of', 'wall_mm', 'gap_mm', 'off_mm', 'opens_deg'],
    when: 'Doors and lids. It stands at the edge of the upper piece, the pin passes over the surface.',
  },
  {
    kind: 'butt',
    name: 'Glue only',
    says: 'Butt joint, glued',
    schema: 'ButtJoint',
    fields: ['glue'],
    when: 'Where there is no room for anything else.',
  },
]
export const infoOf = (kind: string): KindInfo => KINDS.find((k) => k.kind === kind) ?? KINDS[0]!

export const idOf = (joint: Joint): string =>
  `${joint.face.parting}/${joint.face.member} ${joint.face.a}|${joint.face.b}`

const freeNumber = (plan: Plan): number =>
  Math.max(0, ...(plan.joints ?? []).map((j) => Number(j.id.slice(1)))) + 1

/** The plan with more joints, under free names. */
export function added(plan: Plan, joints: readonly Joint[]): void {
  const from = freeNumber(plan)
  plan.joints = [...(plan.joints ?? []), ...joints.map((j, k) => ({ ...j, id: `j${from + k}` }))]
}

/** A joint for another face, with the same measures; places set by hand only where the faces are alike. */
export function copiedTo(joint: Joint, face: FaceView, alike: boolean): Joint {
  return { ...joint, face: face.ref, places: alike ? joint.places : null }
}

/** Whether two faces have nearly the same outline box and area, so that places fit both. */
export function alike(a: FaceView, b: FaceView): boolean {
  const close = (x: number, y: number) => Math.abs(x - y) <= 0.02 * Math.max(x, y, 1)
  const [p, q] = [boundsOf(a), boundsOf(b)]
  if (!p || !q || !close(a.area_mm2, b.area_mm2)) return false
  return (['x0', 'x1', 'y0', 'y1'] as const).every((side) => Math.abs(p[side] - q[side]) < 0.5)
}

/** The angle between a dovetail's flank and its face, in degrees. */
export const flankOf = (neck: number, head: number, height: number): number =>
  (Math.atan2(height, (head - neck) / 2) * 180) / Math.PI

/** The head of a dovetail whose flanks stand at an angle to the face. */
export const headFor = (neck: number, height: number, degrees: number): number =>
  neck + (2 * height) / Math.tan((degrees * Math.PI) / 180)
