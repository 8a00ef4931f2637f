<script setup lang="ts">
import { computed } from 'vue'
import type { FaceView, JointView, Vec3 } from '@/api/client'
import { cm3, count, fixed, mm, mm2, size } from '@/api/format'
import type { StationId } from '@/router'
import { useAssembly, works, type AssemblyStep } from '@/stores/assembly'
import { useSelection } from '@/stores/selection'
import { useProject } from '@/stores/project'

const props = defineProps<{ station: StationId }>()
const project = useProject()
const selection = useSelection()
const assembly = useAssembly()

interface Cell {
  label: string
  text: string
  tone?: 'good' | 'bad'
}

const whole = computed<Cell>(() => {
  const model = project.build?.model
  if (!model) return { label: 'Whole model', text: project.onItsWay ? 'on its way …' : 'none yet' }
  const n = project.pieces.length
  return { label: 'Whole model', text: `${n} ${n === 1 ? 'piece' : 'pieces'} · ${cm3(model.volume_mm3)}` }
})

const faceCells = computed<Cell[] | null>(() => {
  const face = project.faces.find((f) => f.id === selection.face)
  if (props.station !== 'join' || !face) return null
  const joints = project.joints.filter((j) => j.face === face.id)
  const names = [face.a, face.b].map((n) => project.pieceName(n) || `Piece ${n}`)
  return [
    { label: 'Face', text: face.label },
    { label: 'Pieces', text: names.join(' · ') },
    {
      label: 'Area, least wall',
      text: `${mm2(face.area_mm2)}, ${face.least_wall_mm ? `${mm(face.least_wall_mm)} mm` : '–'}`,
    },
    {
      label: 'Goes together',
      text: joints.length ? wayText(joints, face.frame.n) : face.modules ? 'any way' : 'any way, glued',
    },
    {
      label: 'Joint',
      text: joints.map((j) => j.label).join(', ') || (face.modules ? 'magnets of modules' : 'none yet'),
    },
    holdsCell(face),
  ]
})

/** What the face holds, and which face of the model is the weakest for the weight it carries; estimates. */
function holdsCell(face: FaceView): Cell {
  const held = project.faces.filter((f) => f.holds_n && f.weight_n)
  const times = (f: FaceView) => f.holds_n! / f.weight_n!
  const weakest = [...held].sort((f, g) => times(f) - times(g))[0]
  if (!weakest) return { label: 'Holds, about', text: '–' }
  const own = face.holds_n ? newtons(face.holds_n) : '–'
  if (weakest.id === face.id) return { label: 'Holds, about', text: `${own}, the weakest` }
  return { label: 'Holds, about', text: `${own}; weakest ${weakest.label} ${newtons(weakest.holds_n!)}` }
}
const newtons = (n: number): string => `${count(n >= 100 ? Math.round(n / 10) * 10 : Math.round(n))} N`

/** How the two pieces come together, as all joints on the face allow. */
function wayText(joints: JointView[], n: Vec3): string {
  const held = joints.filter((j) => j.motions)
  if (held.length === 0) return 'any way'
  if (held.some((j) => j.turns)) return held.length > 1 ? 'joints at odds' : 'turned in'
  const same = (p: readonly number[], q: readonly number[]) => p.every((v, k) => Math.abs(v - q[k]!) < 1e-3)
  const ways = held[0]!.motions!.filter((w) => held.every((j) => j.motions!.some((o) => same(w, o))))
  if (ways.length === 0) return 'joints at odds'
  const straight = ways.some((w) => same(w, [-n[0], -n[1], -n[2]]))
  if (straight) return Math.abs(n[2]) > 0.99 ? 'straight down' : 'straight together'
  const [x, y, z] = ways[0]!
  if (Math.abs(z) > 0.99) return ways.length > 1 ? 'slides up or down' : z < 0 ? 'slides down' : 'slides up'
  const along = Math.abs(x) > 0.99 ? 'along X' : Math.abs(y) > 0.99 ? 'along Y' : 'along its line'
  return `slides ${along}${ways.length > 1 ? '' : ', one way'}`
}

/** The mass if printed solid; before and after the prepare steps where they change it. */
function massText(model: NonNullable<typeof project.build>['model'] & object): string {
  const grams = (g: number) => count(Math.round(g))
  const same = Math.abs(model.raw_mass_g - model.mass_g) < 0.5
  return same ? `${grams(model.mass_g)} g` : `${grams(model.raw_mass_g)} → ${grams(model.mass_g)} g`
}

const pieceCells = computed<Cell[]>(() => {
  const piece = project.pieces.find((p) => p.number === selection.piece)
  if (!piece) {
    const model = project.build?.model
    if (!model) return []
    return [
      { label: 'Model', text: model.name },
      { label: 'Size', text: `${size(model.size_mm)} mm` },
      { label: 'Surface', text: model.closed ? 'closed' : 'open', tone: model.closed ? 'good' : 'bad' },
      { label: 'Solid mass', text: massText(model) },
    ]
  }
  return [
    { label: 'Piece', text: String(piece.number) },
    { label: 'Name', text: piece.name },
    { label: 'Size', text: `${size(piece.size_mm)} mm` },
    { label: 'Bed', text: piece.fits ? 'fits' : 'over', tone: piece.fits ? 'good' : 'bad' },
    { label: 'Volume', text: cm3(piece.volume_mm3) },
    { label: 'Stands on', text: piece.rest.what },
    { label: 'Mates with', text: piece.neighbours.join(' · ') || 'nothing' },
  ]
})

/** At Assemble: the step that is looked at, and how the whole stands. */
const stepCells = computed<Cell[] | null>(() => {
  const step = assembly.step
  if (props.station !== 'assemble' || !step) return null
  const onto = step.onto ? (assembly.units.get(step.onto)?.name ?? step.onto) : 'the table'
  const balance = assembly.view?.balance
  return [
    { label: 'Step', text: `${step.step} of ${assembly.steps.length}` },
    { label: 'Brings', text: step.title },
    { label: 'Onto', text: onto },
    { label: 'Way', text: motionText(step) },
    {
      label: 'Proof',
      text: step.proof,
      tone: works(step) ? (step.proof === 'proved' ? 'good' : undefined) : 'bad',
    },
    ...(balance
      ? [
          {
            label: 'Assembled',
            text: `${count(Math.round(balance.mass_g))} g, tips at ${fixed(balance.tip_deg, 0)}°`,
          },
        ]
      : []),
  ]
})
function motionText(step: AssemblyStep): string {
  const { kind, distance_mm, turns, swing_deg } = step.motion
  if (kind === 'set down') return step.onto ? 'none found' : 'set down'
  if (kind === 'screw') return `${fixed(Math.abs(turns ?? 0), 1)} turns`
  if (kind === 'turn') return `turned by ${fixed(360 * Math.abs(turns ?? 0), 0)}°`
  if (kind === 'swing') return `swings by ${fixed(swing_deg ?? 0, 0)}°`
  return `${kind}, ${mm(distance_mm ?? 0)} mm`
}

const cells = computed(() => [...(faceCells.value ?? stepCells.value ?? pieceCells.value), whole.value])
</script>

<template>
  <footer class="title" data-test="title-block">
    <div v-for="cell in cells" :key="cell.label">
      <small>{{ cell.label }}</small>
      <span :class="cell.tone">{{ cell.text }}</span>
    </div>
  </footer>
</template>

<style scoped>
.title {
  display: flex;
  border-top: 1px solid var(--ink);
  background: var(--sheet);
}
.title > div {
  flex: 1 1 auto;
  min-width: 0;
  padding: 5px 12px;
  border-right: 1px solid var(--ink);
  display: flex;
  flex-direction: column;
  white-space: nowrap;
  overflow: hidden;
}
.title > div:last-child {
  border-right: 0;
}
small {
  font-size: 11px;
  color: var(--ink-soft);
}
span {
  overflow: hidden;
  text-overflow: ellipsis;
}
</style>
