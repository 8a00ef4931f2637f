<script setup lang="ts">
/** The chosen parting: its values, what it cuts, its section and seam, and what it changes in the cut list. */
import { computed } from 'vue'
import { api, got, type Parting } from '@/api/client'
import { mm, overBy, size } from '@/api/format'
import { useDividing } from '@/stores/dividing'
import { useProject } from '@/stores/project'
import SchemaForm from '@/ui/SchemaForm.vue'
import { kindOf, shownFields } from '@/ui/schema'
import SectionDrawing from '@/ui/SectionDrawing.vue'
import { OTHERS } from '@/view3d/plane'
import CutsOnly from './CutsOnly.vue'
import HatchOutline from './HatchOutline.vue'
import LinePoints from './LinePoints.vue'
import { AXES, nextId, type AxisName } from './partings'
import WedgeAngles from './WedgeAngles.vue'
import RuledText from '@/ui/RuledText.vue'

const props = defineProps<{ parting: Parting }>()
const emit = defineEmits<{ add: [parting: Parting] }>()
const project = useProject()
const dividing = useDividing()
/** as it is while something of it is dragged */
const shown = computed<Parting>(() => {
  const now = dividing.shape?.id === props.parting.id ? dividing.shape : props.parting
  return dividing.draft && now.kind === 'flat' ? { ...now, at_mm: now.at_mm + dividing.draft.moved } : now
})
const kind = computed(() => kindOf('partings', props.parting.kind))

function change(what: string, next: Parting): Promise<boolean> {
  return project.edit(`${what} of ${next.id.toUpperCase()}`, (plan) => {
    plan.partings = plan.partings?.map((p) => (p.id === next.id ? next : p))
  })
}
function set(field: string, value: unknown, title: string): void {
  const now = props.parting
  const next = { ...now, [field]: value } as Parting
  if ((next.kind === 'flat' || next.kind === 'lap') && field === 'axis')
    Object.assign(next, middleOf(next.axis ?? 'z'))
  // even spacing goes by one of the two
  if (next.kind === 'even' && field === 'parts')
    next.greatest_mm = value === null ? (now as typeof next).greatest_mm : null
  if (next.kind === 'even' && field === 'greatest_mm')
    next.parts = value === null ? ((now as typeof next).parts ?? 2) : null
  if (next.kind === 'even' && next.parts == null && next.greatest_mm == null) next.parts = 2
  void change(title, next)
}
/** A plane square to `axis` in the middle of the model: a place along one axis means nothing along another. */
function middleOf(axis: AxisName): { at_mm: number; pivot_mm: [number, number]; tilt_deg: [number, number] } {
  const model = project.build?.model
  const centre = (a: AxisName) => {
    const k = AXES.indexOf(a)
    return model ? Math.round(model.low_mm[k]! + model.high_mm[k]!) / 2 : 0
  }
  const [first, second] = OTHERS[axis]
  return { at_mm: centre(axis), pivot_mm: [centre(first), centre(second)], tilt_deg: [0, 0] }
}

const fields = computed(() => shownFields(kind.value, props.parting))
const built = computed(() => project.build?.partings?.find((p) => p.id === props.parting.id))
const drawing = computed(() => {
  if (props.parting.kind === 'flat' && dividing.live)
    return { rings: dividing.live.rings, area: dividing.live.area, wall: dividing.live.leastWall }
  const first = built.value?.sections[0]
  return first
    ? {
        rings: first.outline.flat() as [number, number][][],
        area: first.area_mm2,
        wall: first.least_wall_mm ?? null,
      }
    : null
})
const least = computed(() => {
  const all = built.value?.sections ?? []
  const rooms = all.map((s) => s.room_radius_mm * 2)
  const walls = all.flatMap((s) => (s.least_wall_mm == null ? [] : [s.least_wall_mm]))
  return { room: rooms.length ? Math.min(...rooms) : null, wall: walls.length ? Math.min(...walls) : null }
})
const sides = computed(() => {
  const live = props.parting.kind === 'flat' ? dividing.live : null
  if (!live) return []
  return (
    [
      ['Above', live.above],
      ['Below', live.below],
    ] as const
  ).flatMap(([name, box]) => (box ? [{ name, size: size(box), over: overBy(box, project.room) }] : []))
})

/** Another one like it, or its mirror image across an axis through the middle of the model. */
async function again(how: 'copy' | 'mirror', axis: AxisName = 'x'): Promise<void> {
  if (!project.plan) return
  const about_mm = middleOf(axis).at_mm
  const body = { parting: props.parting, id: nextId(project.plan), how, axis, about_mm }
  try {
    emit('add', got<Parting>(await api.POST('/api/partings/again', { body: body as never })))
  } catch (error) {
    await project.refused(error)
  }
}
</script>

<template>
  <div class="block">
    <h2>
      {{ parting.id.toUpperCase() }}
      <small>{{ kind.says }}</small>
      <RuledText
        class="named"
        maxlength="80"
        label="Name of the parting"
        placeholder="name it"
        :model-value="parting.name"
        @update:model-value="set('name', $event, 'Name')"
      />
    </h2>
    <LinePoints
      v-if="parting.kind === 'profile'"
      :parting="shown as Extract<Parting, { kind: 'profile' }>"
      @change="change"
    />
    <HatchOutline v-if="parting.kind === 'hatch'" :parting="parting" @change="change" />
    <SchemaForm :schema="kind.model" :fields="fields" :value="shown" :words="kind.words" @change="set" />
    <WedgeAngles v-if="parting.kind === 'wedges'" :parting="parting" @change="change" />
    <div class="row">
      <span class="label">Cuts</span>
      <CutsOnly :parting="parting" @change="change" />
    </div>
    <div class="chips tools">
      <button class="chip" data-test="duplicate" @click="again('copy')">Duplicate</button>
      <button
        v-for="axis in AXES"
        :key="axis"
        class="chip"
        :data-test="`mirror-${axis}`"
        @click="again('mirror', axis)"
      >
        Mirror {{ axis.toUpperCase() }}
      </button>
      <button
        class="chip"
        :aria-pressed="parting.hidden"
        data-test="hide-parting"
        @click="change(parting.hidden ? 'Showing' : 'Hiding', { ...parting, hidden: !parting.hidden })"
      >
        {{ parting.hidden ? 'Show in view' : 'Hide in view' }}
      </button>
    </div>
    <SectionDrawing
      v-if="drawing && parting.on"
      :rings="drawing.rings"
      :area="drawing.area"
      :wall="drawing.wall"
    />
    <table v-if="parting.on && sides.length" class="plain-table" data-test="sides">
      <tbody>
        <tr v-for="side in sides" :key="side.name">
          <th>{{ side.name }}</th>
          <td>{{ side.size }}</td>
          <td :class="side.over > 0.05 ? 'bad' : 'good'" class="num">
            {{ side.over > 0.05 ? `over by ${mm(side.over)}` : 'fits' }}
          </td>
        </tr>
      </tbody>
    </table>
    <table v-if="parting.on && built" class="plain-table figures" data-test="parting-figures">
      <tbody>
        <tr>
          <th>Seam</th>
          <td data-test="seam-length">
            {{ mm(built.seam_mm) }} mm{{
              built.seam_show_mm > 0.05 ? `, ${mm(built.seam_show_mm)} on show faces` : ''
            }}
          </td>
        </tr>
        <tr v-if="least.room !== null">
          <th>Room</th>
          <td>
            ⌀ {{ mm(least.room) }} mm for joints{{
              least.wall === null ? '' : `, wall ${mm(least.wall)} at least`
            }}
          </td>
        </tr>
        <tr>
          <th>Cut list</th>
          <td data-test="cut-change">
            {{
              built.pieces_cut
                ? `${built.pieces_cut} ${built.pieces_cut === 1 ? 'piece becomes' : 'pieces become'} ${built.pieces_made}`
                : 'nothing changes'
            }}
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="built && parting.kind !== 'flat' && built.sections.length > 1" class="soft">
      {{ built.sections.length }} planes; the first is drawn.
    </p>
  </div>
</template>

<style scoped>
.named {
  flex: 1;
  min-width: 0;
  border-color: var(--line-strong);
  font-weight: 400;
  font-size: 12.5px;
}
.tools {
  margin: 6px 0 2px;
  gap: 4px;
}
.tools .chip {
  padding: 2px 6px;
}
table {
  margin-top: 6px;
}
table.figures {
  margin-top: 0;
}
table th {
  width: 62px;
}
p {
  margin: 8px 0 0;
  font-size: 12.5px;
}
</style>
