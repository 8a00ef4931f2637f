<script setup lang="ts">
/** Where the open part stands: each instance by typed figures, and more of them in a row, in a ring, mirrored. */
import { computed, ref, watch } from 'vue'
import { useParts, type Instance } from '@/stores/parts'
import { useProject } from '@/stores/project'
import { placeOf, useTools } from '@/stores/tools'
import { useViewport } from '@/stores/viewport'
import RuledNumber from '@/ui/RuledNumber.vue'
import RuledTriple from '@/ui/RuledTriple.vue'

type Axis = 'x' | 'y' | 'z'
type How = 'row' | 'ring' | 'mirror'
const AXES = ['x', 'y', 'z'] as const
const project = useProject()
const parts = useParts()
const tools = useTools()
const viewport = useViewport()
const laid = ref('')
const which = ref(0)
const how = ref<How | null>(null)
const busy = ref(false)
const chosen = computed(() => parts.instances[which.value] ?? parts.instances[0])
watch(
  () => [project.plan?.part_id, parts.instances.length] as const,
  ([part, count], before) => {
    if (part !== before?.[0]) which.value = 0
    which.value = Math.min(which.value, Math.max(0, count - 1))
  },
)
const row = ref({ count: 2, step: [60, 0, 0] as [number, number, number], rows: 1, across: 60 })
const ring = ref({
  count: 6,
  axis: 'z' as Axis,
  through: [0, 0, 0] as [number, number, number],
  turned: true,
})
const mirror = ref({ axis: 'x' as Axis, at: 0 })

function set(change: Partial<Instance>, label: string): void {
  void parts.place(label, (all) => all.map((one, k) => (k === which.value ? { ...one, ...change } : one)))
}
function remove(): void {
  void parts.place('Took out an instance', (all) => all.filter((_, k) => k !== which.value))
}
async function more(): Promise<void> {
  const [r, g, m] = [row.value, ring.value, mirror.value]
  const arrangement =
    how.value === 'row'
      ? {
          how: 'row' as const,
          count: r.count,
          step_mm: r.step,
          rows: r.rows,
          row_step_mm: (Math.abs(r.step[0]) >= Math.abs(r.step[1]) ? [0, r.across, 0] : [r.across, 0, 0]) as [
            number,
            number,
            number,
          ],
        }
      : how.value === 'ring'
        ? { how: 'ring' as const, count: g.count, axis: g.axis, through_mm: g.through, turned: g.turned }
        : { how: 'mirror' as const, axis: m.axis, at_mm: m.at }
  busy.value = true
  await project.command('arrange-part', { which: which.value, how: arrangement as never })
  busy.value = false
  how.value = null
}
async function layAgainst(): Promise<void> {
  viewport.others = true
  const spots = await tools.pick(
    ['Click a face of this part, or drag it onto another one.', 'Click where it goes on another part.'],
    true,
  )
  if (!spots) return
  busy.value = true
  const how = { own: placeOf(spots[0]!), other: placeOf(spots[1]!) }
  const found = await project.command('lay-against', { which: which.value, how: how as never })
  busy.value = false
  laid.value = found ? `Laid ${found.said}.` : ''
}
const name = (one: Instance): string => {
  const [x, y, z] = one.at_mm ?? [0, 0, 0]
  return `${[x, y, z].map((v) => Math.round(v * 10) / 10).join(', ')}${one.mirrored ? ', mirrored' : ''}`
}
</script>

<template>
  <div class="block" data-test="places">
    <h2>
      Where it stands
      <small>{{ parts.instances.length === 1 ? 'once' : `${parts.instances.length} times` }}</small>
    </h2>
    <div v-if="parts.instances.length > 1" class="row">
      <label for="which">Instance</label>
      <select id="which" v-model="which" class="ruled" data-test="which">
        <option v-for="(one, k) in parts.instances" :key="k" :value="k">{{ k + 1 }} · {{ name(one) }}</option>
      </select>
    </div>
    <template v-if="chosen">
      <div class="row">
        <span class="label">At</span>
        <RuledTriple
          label="At"
          test="at"
          :digits="2"
          :model-value="chosen.at_mm ?? [0, 0, 0]"
          @update:model-value="set({ at_mm: $event }, 'Moved a part')"
        />
      </div>
      <div class="row">
        <span class="label">Turned</span>
        <RuledTriple
          label="Turned about"
          test="turned"
          unit="°"
          :step="5"
          :min="-360"
          :max="360"
          :model-value="chosen.turn_deg ?? [0, 0, 0]"
          @update:model-value="set({ turn_deg: $event }, 'Turned a part')"
        />
      </div>
      <div class="row">
        <label for="mirrored">Mirrored</label>
        <span>
          <input
            id="mirrored"
            type="checkbox"
            :checked="chosen.mirrored"
            data-test="mirrored"
            @change="set({ mirrored: ($event.target as HTMLInputElement).checked }, 'Mirrored a part')"
          />
        </span>
      </div>
      <div class="chips more">
        <button
          v-for="[id, words] in [
            ['row', 'In a row'],
            ['ring', 'In a ring'],
            ['mirror', 'Mirror image'],
          ] as const"
          :key="id"
          class="chip"
          :aria-pressed="how === id"
          :data-test="`more-${id}`"
          @click="how = how === id ? null : id"
        >
          {{ words }}
        </button>
        <button
          v-if="parts.standing > 1"
          class="chip"
          data-test="lay-against"
          :disabled="busy"
          @click="layAgainst"
        >
          Lay against
        </button>
        <button v-if="parts.instances.length > 1" class="chip" data-test="remove-instance" @click="remove">
          Take out
        </button>
      </div>
    </template>
    <p v-if="laid" class="good small" aria-live="polite" data-test="laid-told">{{ laid }}</p>
    <form v-if="how" class="form" @submit.prevent="more">
      <template v-if="how === 'row'">
        <div class="row">
          <span class="label">In all</span>
          <RuledNumber
            v-model="row.count"
            label="In all"
            unit=""
            :digits="0"
            :min="1"
            :max="2000"
            data-test="row-count"
          />
        </div>
        <div class="row">
          <span class="label">Step</span>
          <RuledTriple v-model="row.step" label="Step along" test="row-step" />
        </div>
        <div class="row">
          <span class="label">Rows</span>
          <span class="three">
            <RuledNumber v-model="row.rows" label="Rows" unit="" :digits="0" :min="1" :max="2000" />
            <RuledNumber v-if="row.rows > 1" v-model="row.across" label="Between rows" />
          </span>
        </div>
      </template>
      <template v-else-if="how === 'ring'">
        <div class="row">
          <span class="label">In all</span>
          <RuledNumber
            v-model="ring.count"
            label="In all"
            unit=""
            :digits="0"
            :min="2"
            :max="2000"
            data-test="ring-count"
          />
        </div>
        <div class="row">
          <label for="about">About</label>
          <select id="about" v-model="ring.axis" class="ruled">
            <option v-for="a in AXES" :key="a" :value="a">{{ a.toUpperCase() }}</option>
          </select>
        </div>
        <div class="row">
          <span class="label">Through</span>
          <RuledTriple v-model="ring.through" label="Through" />
        </div>
        <div class="row">
          <label for="turned-along">Turned along</label>
          <span><input id="turned-along" v-model="ring.turned" type="checkbox" /></span>
        </div>
      </template>
      <template v-else>
        <div class="row">
          <label for="across">Across</label>
          <select id="across" v-model="mirror.axis" class="ruled">
            <option v-for="a in AXES" :key="a" :value="a">{{ a.toUpperCase() }}</option>
          </select>
        </div>
        <div class="row">
          <span class="label">At</span><RuledNumber v-model="mirror.at" label="Mirrored at" />
        </div>
      </template>
      <button class="wide" :disabled="busy" data-test="place-more">Place them</button>
    </form>
  </div>
</template>

<style scoped>
.three {
  display: flex;
  gap: 5px;
}
.three :deep(.ruled-number) {
  width: 63px;
}
.more,
.form {
  margin-top: 8px;
}
.form .wide {
  margin-top: 8px;
}
</style>
