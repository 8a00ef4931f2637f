<script setup lang="ts">
/** Spools: how much is on each; what is printed goes off by itself. */
import { ref } from 'vue'
import { api } from '@/api/client'
import { usePrintLog } from '@/stores/printlog'
import { useWorkshop } from '@/stores/workshop'
import RuledNumber from '@/ui/RuledNumber.vue'

const log = usePrintLog()
const workshop = useWorkshop()
const adding = ref(false)
const name = ref('')
const material = ref('')
const full = ref(1000)

function begin(): void {
  adding.value = true
  name.value = ''
  material.value = workshop.materials[0]?.id ?? ''
}
async function add(): Promise<void> {
  const body = { material_id: material.value, name: name.value.trim(), full_g: full.value, left_g: null }
  if (await log.change(() => api.POST('/api/spools', { body }))) adding.value = false
  await log.loadMachines()
}
async function weigh(number: number, left: number | null): Promise<void> {
  if (left === null) return
  const params = { path: { number } }
  await log.change(() => api.PUT('/api/spools/{number}', { params, body: { left_g: left, name: null } }))
  await log.loadMachines()
}
async function drop(number: number): Promise<void> {
  await log.change(() => api.DELETE('/api/spools/{number}', { params: { path: { number } } }))
  await log.loadMachines()
}
const nameOf = (id: string) => workshop.materials.find((m) => m.id === id)?.name ?? id
</script>

<template>
  <div class="block" data-test="spools">
    <h2>Spools <small>grams left</small></h2>
    <p v-for="s in log.spools" :key="s.id" class="spool" data-test="spool">
      <span class="grow">
        {{ s.name }} <small class="soft">{{ nameOf(s.material_id) }}</small>
      </span>
      <RuledNumber
        :model-value="Math.round(s.left_g)"
        :label="`Left on ${s.name}`"
        unit="g"
        :digits="0"
        :step="10"
        :min="0"
        :max="100000"
        data-test="spool-left"
        @update:model-value="weigh(s.id, $event)"
      />
      <button class="plain soft" :aria-label="`Take ${s.name} out`" @click="drop(s.id)">×</button>
    </p>
    <form v-if="adding" class="slip" @submit.prevent="add">
      <label>Name <input v-model="name" class="ruled" maxlength="80" data-test="spool-name" /></label>
      <label
        >Material
        <select v-model="material" class="ruled">
          <option v-for="m in workshop.materials" :key="m.id" :value="m.id">{{ m.name }}</option>
        </select>
      </label>
      <label
        >Full
        <RuledNumber
          :model-value="full"
          label="Full"
          unit="g"
          :digits="0"
          :step="50"
          :min="1"
          :max="100000"
          @update:model-value="full = $event ?? 1000"
        />
      </label>
      <div class="chips">
        <button type="button" class="chip" @click="adding = false">Leave it</button>
        <button class="chip" data-test="spool-keep" :disabled="!name.trim()">Keep</button>
      </div>
    </form>
    <button v-else class="chip" data-test="spool-new" @click="begin">A spool more</button>
  </div>
</template>

<style scoped>
.spool {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 0 0 4px;
}
.grow {
  flex: 1;
}
.spool :deep(.ruled-number) {
  width: 84px;
}
</style>
