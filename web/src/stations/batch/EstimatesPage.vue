<script setup lang="ts">
/** What estimates rest on, and options to compare them with. */
import { computed } from 'vue'
import { useProject } from '@/stores/project'
import { useWhatIf, type Settings } from '@/stores/whatIf'
import { useWorkshop } from '@/stores/workshop'
import RuledNumber from '@/ui/RuledNumber.vue'
import SchemaForm from '@/ui/SchemaForm.vue'

const project = useProject()
const workshop = useWorkshop()
const whatIf = useWhatIf()
const settings = computed(() => project.plan?.printing)
const resin = computed(() => project.plan?.material?.process === 'resin')
const fields = computed(() =>
  resin.value
    ? ['layers', 'support_percent', 'resin_loss_percent']
    : ['layers', 'walls', 'skins', 'infill_percent', 'support_percent', 'brim_mm'],
)
function set(field: string, value: unknown, title: string): void {
  if (value === null) return
  void project.edit(`Printing: ${title.toLowerCase()}`, (plan) => {
    plan.printing = { ...plan.printing!, [field]: value }
  })
}
const READY: { name: string; change: Partial<Settings>; scale?: number }[] = [
  { name: 'fine layers', change: { layers: 'fine' } },
  { name: 'coarse layers', change: { layers: 'coarse' } },
  { name: 'two walls', change: { walls: 2 } },
  { name: 'no infill', change: { infill_percent: 0 } },
  { name: 'half the size', change: {}, scale: 0.5 },
]
function setMaterial(k: number, id: string): void {
  const option = whatIf.options[k]!
  option.material = workshop.materials.find((m) => m.id === id) ?? null
}
const full = computed(() => whatIf.options.length >= 5)
</script>

<template>
  <div class="block">
    <h2>How it prints <small>what estimates rest on</small></h2>
    <SchemaForm v-if="settings" schema="PrintSettings" :fields="fields" :value="settings" @change="set" />
    <p class="soft small">
      Estimated from layers: walls, skins, infill, support. Times are within about a fifth either way.
    </p>
  </div>
  <div class="block">
    <h2>What if <small>side by side</small></h2>
    <div class="chips">
      <button
        v-for="r in READY"
        :key="r.name"
        class="chip"
        :disabled="full"
        data-test="what-if-add"
        @click="whatIf.add(r.name, r.change, r.scale)"
      >
        {{ r.name }}
      </button>
    </div>
    <fieldset v-for="(o, k) in whatIf.options" :key="k" class="option" data-test="what-if-option">
      <div class="row">
        <input v-model="o.name" class="ruled" maxlength="60" :aria-label="`Name of option ${k + 1}`" />
        <button class="plain" :aria-label="`Take out ${o.name}`" @click="whatIf.drop(k)">×</button>
      </div>
      <div class="two">
        <select v-model="o.printing.layers" class="ruled" :aria-label="`Layers of ${o.name}`">
          <option value="fine">fine</option>
          <option value="usual">usual</option>
          <option value="coarse">coarse</option>
        </select>
        <select
          class="ruled"
          :aria-label="`Material of ${o.name}`"
          :value="o.material?.id ?? ''"
          @change="setMaterial(k, ($event.target as HTMLSelectElement).value)"
        >
          <option value="">its material</option>
          <option v-for="m in workshop.materials" :key="m.id" :value="m.id">{{ m.name }}</option>
        </select>
      </div>
      <div class="three">
        <RuledNumber
          v-model="o.printing.walls"
          :label="`Walls of ${o.name}`"
          unit="walls"
          :digits="0"
          :min="0"
          :max="20"
        />
        <RuledNumber
          v-model="o.printing.infill_percent"
          :label="`Infill of ${o.name}`"
          unit="%"
          :digits="0"
          :min="0"
          :max="100"
        />
        <RuledNumber
          v-model="o.scale"
          :label="`Size of ${o.name}`"
          unit="×"
          :digits="2"
          :step="0.1"
          :min="0.1"
          :max="10"
        />
      </div>
    </fieldset>
    <div class="chips">
      <button
        class="chip"
        :disabled="whatIf.busy || !whatIf.options.length"
        data-test="what-if"
        @click="whatIf.compare()"
      >
        Compare
      </button>
      <button v-if="whatIf.busy" class="chip" @click="whatIf.stop()">Stop</button>
      <span v-if="whatIf.busy" class="soft" role="status">estimating …</span>
    </div>
  </div>
</template>

<style scoped>
.small {
  font-size: 12px;
  margin: 6px 0 0;
}
.option {
  border: 0;
  border-left: 3px solid var(--line-strong);
  padding: 2px 0 4px 8px;
  margin: 8px 0;
}
.option .row {
  grid-template-columns: 1fr 20px;
}
.two,
.three {
  display: flex;
  gap: 8px;
}
.chips {
  margin: 4px 0;
}
</style>
