<script setup lang="ts">
import { useResizeObserver } from '@vueuse/core'
import { Box3, Vector3 } from 'three'
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import type { StationId } from '@/router'
import { useAssembly } from '@/stores/assembly'
import { useMoving } from '@/stores/moving'
import { useDividing } from '@/stores/dividing'
import { useSelection } from '@/stores/selection'
import { useTools } from '@/stores/tools'
import { useViewport } from '@/stores/viewport'
import { cameOf } from '@/api/pieceKeys'
import { useProject } from '@/stores/project'
import { night } from '@/ui/night'
import { balloonsFor, type Anchor, type Balloon } from './balloons'
import { bodiesFor, type Looked, onBed, spreadOf } from './bodies'
import LookBar from './LookBar.vue'
import OverLines from './OverLines.vue'
import { dimensionLines, handleAt, heightScale, middleOf, type Dimension, type Tick } from './overlay'
import MovingBar from './MovingBar.vue'
import PlayBar from './PlayBar.vue'
import { frameOf, planeOfFlat, triple, vec, type Plane } from './plane'
import PlaneHandle, { type HandlePlace } from './PlaneHandle.vue'
import { quadOf, Stage, type ViewName } from './stage'
import PointHandle from './PointHandle.vue'
import { useAssemblyView } from './useAssemblyView'
import { useMovingView } from './useMovingView'
import { useBrush } from './useBrush'
import { useCutAway } from './useCutAway'
import { useDivideView } from './useDivideView'
import { useDragging } from './useDragging'
import { useDrawing } from './useDrawing'
import { useMeasuring } from './useMeasuring'
import { useOtherParts } from './useOtherParts'
import { usePictures } from './usePictures'
import { usePrinting } from './usePrinting'

const props = defineProps<{ station: StationId }>()
/** what the play bar covers at Assemble, pixels */
const BAR = 50
const emit = defineEmits<{ planeMoved: [id: string, moved: number] }>()
const project = useProject()
const viewport = useViewport()
const selection = useSelection()
const dividing = useDividing()
const tools = useTools()
const box = useTemplateRef<HTMLDivElement>('box')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const stage = shallowRef<Stage | null>(null)
const width = ref(0)
const height = ref(0)
const view = ref<ViewName | null>('corner')
const balloons = shallowRef<Balloon[]>([])
const problem = ref('')
const handle = shallowRef<HandlePlace | null>(null)
const dimensions = shallowRef<Dimension[]>([])
const scale = shallowRef<Tick[]>([])

const modelBox = computed(() => {
  const model = project.build?.model
  return model ? new Box3(vec(model.low_mm), vec(model.high_mm)) : new Box3()
})
const middle = computed(() => modelBox.value.getCenter(new Vector3()))
const divide = useDivideView(stage, () => props.station, middle)
const { places } = divide
const drawing = useDrawing(stage, () => middle.value.clone())
const { path } = drawing
const brush = useBrush(stage)
const { dabs } = brush
const assembly = useAssembly()
const movement = useMoving()
const moves = computed(() => props.station === 'assemble' && assembly.page === 'moving')
const assembling = useAssemblyView(stage, () => props.station === 'assemble' && !moves.value)
const moving = useMovingView(stage, () => moves.value)
const { guides, arrow } = assembling

const otherParts = useOtherParts(stage, () => props.station)
const dragging = useDragging(stage, () => specs.value)

/** the room of the printer whose bed is drawn */
const room = computed(() => viewport.onBatch?.room ?? (project.room as [number, number, number]))
const spreads = computed(() => ['whole-job', 'divide', 'join', 'check', 'log'].includes(props.station))
const looked = computed<Looked>(() => ({
  piece: selection.piece,
  face: selection.face,
  page: dividing.page,
  otherMesh: viewport.otherMesh,
  seeThrough: viewport.seeThrough,
  walls: viewport.walls,
  spread: viewport.spread,
  printing: viewport.printing,
  prints: viewport.prints,
  opened: viewport.opened,
  onBatch: viewport.onBatch,
  states: viewport.states,
  differs: viewport.differs,
}))
const specs = computed(() => {
  const all =
    moving.bodies.value ??
    assembling.bodies.value ??
    (project.drawn ? bodiesFor(props.station, project.drawn, looked.value) : [])
  const only = viewport.only
  if (otherParts.play.value.length)
    return [...all.map((s) => ({ ...s, solidity: 0.25 })), ...otherParts.play.value]
  return only ? all.filter((s) => (s.of ?? [s.number]).every((n) => n !== null && only.includes(n))) : all
})
/** Planes to draw: those of the chosen parting; at Join the one of the chosen face. */
const planes = computed<Plane[]>(() => {
  if (!project.build?.model) return []
  if (props.station === 'join') {
    const face = project.faces.find((f) => f.id === selection.face)
    return face && !viewport.only ? [frameOf(vec(face.frame.origin), vec(face.frame.n))] : []
  }
  const parting = divide.chosen.value
  if (!parting) return []
  if (parting.kind === 'lap') return [planeOfFlat(parting)]
  if (parting.kind === 'detach')
    return [frameOf(vec(parting.through_mm ?? [0, 0, 0]), vec(parting.normal ?? [0, 0, 1]))]
  if (parting.kind === 'profile' || parting.kind === 'hatch') return []
  if (parting.kind === 'flat') {
    const plane = planeOfFlat(parting)
    if (dividing.draft) plane.origin.addScaledVector(plane.n, dividing.draft.moved)
    return [plane]
  }
  const built = project.build?.partings?.find((p) => p.id === parting.id)
  return (built?.sections ?? []).map((s) => frameOf(vec(s.frame.origin), vec(s.frame.n)))
})
const draggable = computed(() => {
  const parting = divide.chosen.value
  return parting?.kind === 'flat' ? parting : null
})

let refitWanted = true
async function show(refit: boolean): Promise<void> {
  if (refit) refitWanted = true
  const now = stage.value
  if (!now) return
  now.covered = props.station === 'assemble' ? BAR : 0
  try {
    const complete = await now.show(specs.value)
    assembling.apply()
    moving.apply()
    problem.value = ''
    if (complete && refitWanted && specs.value.length > 0) {
      refitWanted = false
      fit()
      if (assembling.look()) view.value = null
    }
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
  showBed()
}

function showBed(): void {
  stage.value?.showBed(onBed(props.station) || props.station === 'model' ? room.value : null)
}

function showPlanes(): void {
  const strong = planes.value.length === 1
  stage.value?.showPlanes(
    planes.value.map((plane) => ({ plane, strong })),
    planeBox(),
  )
}

/** What a plane's quad should cover: the chosen face, the pieces a parting is set to cut, or the whole model. */
function planeBox(): Box3 {
  const face = props.station === 'join' ? project.faces.find((f) => f.id === selection.face) : null
  const parting = divide.chosen.value
  const only = parting?.kind === 'detach' ? featureOf(parting.id) : parting?.only
  const chosen = project.pieces.filter((p) =>
    face ? p.number === face.a || p.number === face.b : only && cameOf(only, p.key),
  )
  if (chosen.length === 0) return modelBox.value
  const out = new Box3()
  for (const p of chosen) out.union(new Box3(vec(p.low_mm), vec(p.high_mm)))
  return out
}

/** Keys of the pieces that a detach parting takes off: its plane is drawn about them only. */
const featureOf = (id: string): string[] =>
  project.pieces.filter((p) => p.key.split(' ').includes(`${id}+`)).map((p) => p.key)

function fit(name: ViewName = view.value ?? 'corner'): void {
  view.value = name
  const now = stage.value
  if (!now) return
  const extent = now.extent()
  if (props.station === 'model' || props.station === 'whole-job') extent.union(now.copies.extent())
  if (onBed(props.station) || props.station === 'model') {
    const [x, y, z] = room.value
    // a small model on a tall printer is still seen well: of the height only what it needs
    const tall = Math.min(z, 1.15 * extent.max.z)
    extent.union(new Box3(new Vector3(-x / 2, -y / 2, 0), new Vector3(x / 2, y / 2, tall)))
  }
  now.look(name, extent)
  view.value = name
}

/** After every drawing: where balloons, dimension lines and the handle are now. */
function overlay(): void {
  const now = stage.value
  if (!now) return
  const anchors: Anchor[] = []
  const atBench = assembling.place(now)
  for (const spec of atBench ? [] : specs.value) {
    const piece = project.pieces.find((p) => p.number === spec.number)
    if (!piece) continue
    const centre = middleOf(piece).applyMatrix4(spec.matrix)
    const at = now.project(centre)
    const seen = at.x > 0 && at.x < width.value && at.y > 0 && at.y < height.value
    if (seen) anchors.push({ number: piece.number, x: at.x, y: at.y })
  }
  balloons.value = balloonsFor(atBench?.anchors ?? anchors, width.value, height.value - (atBench ? BAR : 0))
  dimensions.value = sizes.value.length ? dimensionLines(now, sizes.value, project.room) : []
  const plane = draggable.value ? planes.value[0] : undefined
  handle.value = plane ? handleAt(now, plane, quadOf(plane, planeBox())[1]) : null
  scale.value = props.station === 'orient' ? heightScale(now, room.value, sizes.value[2] ?? 0) : []
  measuring.place(now)
  divide.place(now)
  drawing.place(now)
  brush.place(now)
}

/** what the view shows, for those who do not see it; the cut list has each piece */
const seen = computed(() => {
  const shown = specs.value.filter((s) => s.number !== null)
  if (!shown.length) return 'nothing yet'
  return shown.length === 1
    ? `piece ${shown[0]!.number}, ${project.pieceName(shown[0]!.number)}`
    : `${shown.length} pieces`
})

/** The figures on the dimension lines; none where no lines are drawn. */
const sizes = computed<readonly number[]>(() => {
  if (props.station === 'model') return project.build?.model?.size_mm ?? []
  if (!onBed(props.station) || viewport.onBatch) return []
  return project.pieces.find((p) => p.number === specs.value[0]?.number)?.rest.size_mm ?? []
})

function zoomToPiece(): void {
  const piece = specs.value.find((s) => s.number === selection.piece)
  const box = piece && stage.value?.boxOf(piece.id)
  if (box) stage.value?.look(view.value ?? 'corner', box)
}

/** Where on the canvas a pointer is. */
function onCanvas(event: PointerEvent): [number, number] {
  const rect = canvas.value!.getBoundingClientRect()
  return [event.clientX - rect.left, event.clientY - rect.top]
}
let pressed: { x: number; y: number } | null = null
function press(event: PointerEvent): void {
  pressed = { x: event.clientX, y: event.clientY }
  if (tools.brush) brush.press(...onCanvas(event))
  else void dragging.press(...onCanvas(event))
}
const moved = (event: PointerEvent) =>
  tools.brush ? brush.move(...onCanvas(event)) : dragging.move(...onCanvas(event))
async function choose(event: PointerEvent): Promise<void> {
  const from = pressed
  pressed = null
  if (tools.brush) return brush.release(...onCanvas(event))
  const far = !from || Math.hypot(event.clientX - from.x, event.clientY - from.y) > 4
  if ((await dragging.release(...onCanvas(event), far)) || far) return
  if (tools.drawing) return drawing.add(...onCanvas(event))
  const flat = tools.onPlane
  const at = flat && stage.value?.meet(...onCanvas(event), frameOf(vec(flat.origin), vec(flat.normal)))
  if (flat) {
    if (at) tools.took({ at: triple(at), normal: flat.normal, piece: null })
    return
  }
  const other = tools.spots.length > 0 && tools.onOther
  const hit = await (other
    ? stage.value?.pickOther(...onCanvas(event))
    : stage.value?.pick(...onCanvas(event)))
  if (!hit) return
  if (tools.measure || tools.picking)
    tools.took({ at: triple(hit.point), normal: triple(hit.normal), piece: hit.number })
  else if (hit.number) selection.piece = hit.number
}

const measuring = useMeasuring(
  stage,
  () => props.station,
  () => specs.value,
)
const { line: measure, picked } = measuring
useCutAway(stage, () => specs.value)
usePrinting(stage, () => props.station)
usePictures(stage, () => props.station)
onMounted(() => {
  const made = new Stage(canvas.value!)
  made.onDraw = overlay
  made.controls.addEventListener('start', () => (view.value = null))
  stage.value = made
  void show(true)
  showPlanes()
})
onBeforeUnmount(() => stage.value?.end())
useResizeObserver(box, () => {
  const before = width.value
  width.value = box.value!.clientWidth
  height.value = box.value!.clientHeight
  stage.value?.resize(width.value, height.value)
  // what was fitted to the view stays so when the view gets another shape
  if (before === 0 || (view.value && Math.abs(before - width.value) > 60)) fit()
})

watch(specs, (now, before) => {
  const refit = now.map((s) => s.id).join() !== before.map((s) => s.id).join()
  void show(refit && (before.length === 0 || onBed(props.station) || props.station === 'assemble'))
})
watch(
  () => [assembly.step, assembly.ownView, assembly.apart > 0] as const,
  () => props.station === 'assemble' && void show(true),
)
watch(
  () => tools.drawing?.eye,
  (eye) => {
    if (!eye) return
    stage.value?.lookFrom(vec(eye))
    view.value = null
  },
)
watch(
  () => viewport.spread,
  () => project.build && spreads.value && stage.value?.move(spreadOf(project.build, viewport.spread)),
)
watch([planes, modelBox], showPlanes)
watch(room, showBed)
watch(night, () => (showBed(), showPlanes()))
watch(
  () => props.station,
  () => void show(true),
)
</script>

<template>
  <div ref="box" class="view" data-test="view">
    <canvas
      ref="canvas"
      role="img"
      :aria-label="`Three-dimensional view: ${seen}`"
      @pointerdown="press"
      @pointermove="moved"
      @pointerup="choose"
    ></canvas>
    <OverLines
      :width="width"
      :height="height"
      :balloons="balloons"
      :dimensions="dimensions"
      :measure="measure"
      :path="path"
      :dabs="dabs"
      :arrow="arrow"
      :guides="guides"
      :ticks="scale"
    />
    <button
      v-for="b in balloons"
      :key="b.number"
      class="balloon"
      :class="{ on: b.number === selection.piece }"
      :style="{ left: `${b.bx}px`, top: `${b.by}px` }"
      :aria-label="b.number > 0 ? `Piece ${b.number}, ${project.pieceName(b.number)}` : `Part ${b.text}`"
      @click="b.number > 0 && (selection.piece = b.number)"
    >
      {{ b.text ?? b.number }}
    </button>
    <PlaneHandle
      v-if="handle && draggable"
      :place="handle"
      :parting="draggable"
      @moved="(id, moved) => emit('planeMoved', id, moved)"
    />
    <PointHandle
      v-for="place in places"
      :key="place.handle.id"
      :place="place"
      @drag="divide.drag"
      @settle="divide.settle"
    />
    <span
      v-for="(spot, k) in picked"
      :key="`spot${k}`"
      class="spot"
      :style="{ left: `${spot.x}px`, top: `${spot.y}px` }"
    ></span>
    <span
      v-if="measure"
      class="measured"
      data-test="measured"
      :style="{ left: `${(measure.x1 + measure.x2) / 2}px`, top: `${(measure.y1 + measure.y2) / 2}px` }"
      >{{ measure.text }}</span
    >
    <div class="views" role="group" aria-label="View from">
      <button
        v-for="name in ['front', 'side', 'top', 'corner'] as const"
        :key="name"
        :class="{ on: view === name }"
        @click="fit(name)"
      >
        {{ name[0]!.toUpperCase() + name.slice(1) }}
      </button>
      <button v-if="view === null" data-test="fit-view" @click="fit('corner')">Fit all</button>
      <button
        v-if="selection.piece && specs.some((s) => s.number === selection.piece)"
        data-test="zoom-piece"
        @click="zoomToPiece"
      >
        Piece {{ selection.piece }}
      </button>
    </div>
    <label v-if="spreads && project.pieces.length > 1" class="spread">
      <span>Spread</span>
      <v-slider
        v-model="viewport.spread"
        :min="0"
        :max="1"
        :step="0.01"
        aria-label="Spread"
        data-test="spread"
      />
    </label>
    <MovingBar v-if="moves && movement.travel" />
    <PlayBar v-else-if="station === 'assemble' && !moves && assembly.steps.length" />
    <LookBar v-if="specs.length" @walls="measuring.toggleWalls" @line-ends="drawing.finish" />
    <div v-if="problem" class="problem" role="alert">{{ problem }}</div>
    <slot />
  </div>
</template>

<style scoped>
.view {
  container-type: inline-size;
  position: relative;
  overflow: hidden;
  background: var(--view);
  min-width: 0;
  min-height: 0;
}
canvas {
  position: absolute;
  inset: 0;
  width: 100%;
  height: 100%;
  display: block;
}
.spot {
  position: absolute;
  width: 9px;
  height: 9px;
  margin: -4.5px 0 0 -4.5px;
  border: 2px solid var(--indigo);
  border-radius: 50%;
  pointer-events: none;
}
.measured {
  position: absolute;
  transform: translate(-50%, -50%);
  background: var(--sheet);
  border: 1px solid var(--indigo);
  color: var(--indigo);
  font-weight: 600;
  font-size: 12px;
  padding: 1px 7px;
  pointer-events: none;
  white-space: nowrap;
}
.balloon {
  position: absolute;
  transform: translate(-50%, -50%);
  min-width: 24px;
  height: 24px;
  padding: 0 4px;
  border-radius: 12px;
  border: 1.2px solid var(--ink);
  background: var(--sheet);
  font-size: 12px;
  cursor: pointer;
}
.balloon.on {
  background: var(--ink);
  color: var(--sheet);
}
.views {
  position: absolute;
  top: 10px;
  left: 11px;
  display: flex;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
}
.views button {
  background: none;
  border: 0;
  border-right: 1px solid var(--line-strong);
  padding: 3px 11px;
  font-size: 12px;
  cursor: pointer;
}
.views button:last-child {
  border-right: 0;
}
.views button.on {
  background: var(--ink);
  color: var(--sheet);
}
.spread {
  position: absolute;
  left: 12px;
  bottom: 10px;
  display: flex;
  align-items: center;
  gap: 10px;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  padding: 0 16px 0 10px;
  width: 208px;
  height: 30px;
}
.problem {
  position: absolute;
  inset: auto 12px 50px;
  color: var(--vermilion);
  background: var(--sheet);
  padding: 8px;
}
</style>
