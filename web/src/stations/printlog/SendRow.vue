<script setup lang="ts">
/** One batch: what it takes, whether its material is enough, and where it is sent. */
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { duration } from '@/api/format'
import type { Batch } from '@/stores/batching'
import { useBatching } from '@/stores/batching'
import { usePrintLog } from '@/stores/printlog'
import { useProject } from '@/stores/project'

const props = defineProps<{
  batch: Batch
  only: Record<string, number> | null
  /** how much of it is printed; none of a reprint */
  left: Schemas['BatchLeft'] | null
}>()
const project = useProject()
const batching = useBatching()
const log = usePrintLog()
const open = ref(false)
const machine = ref('')
const spool = ref('')

const name = computed(() => `${props.only ? 'Again' : 'Batch'} ${props.batch.number}`)
const printed = computed(() => props.left !== null && props.left.made === props.left.all)
const under = computed(() =>
  log.active.filter((p) => p.batch.reprint === (props.only !== null) && p.batch.batch === props.batch.number),
)
/** printers that print what this batch was laid out for come first */
const choices = computed(() =>
  [...log.machines].sort((a, b) => Number(fits(b.machine)) - Number(fits(a.machine))),
)
function fits(one: { printer_id: string }): boolean {
  const known = [project.plan?.printer, ...(project.plan?.more_printers ?? [])]
  return known.find((p) => p?.id === one.printer_id)?.name === props.batch.printer
}
const materialId = computed(
  () =>
    [project.plan?.material, ...(project.plan?.more_materials ?? [])].find(
      (m) => m?.name === props.batch.material,
    )?.id,
)
const spools = computed(() => log.spools.filter((s) => s.material_id === materialId.value))
watch(open, async (now) => {
  if (!now) return
  await log.loadMachines()
  const free = choices.value.find((m) => m.answers && fits(m.machine) && !m.print_id && !m.strange)
  machine.value = (free ?? choices.value[0])?.machine.id ?? ''
})
watch(machine, (id) => {
  const loaded = log.machines.find((m) => m.machine.id === id)?.machine.spool_id
  spool.value = loaded && spools.value.some((s) => s.id === loaded) ? String(loaded) : ''
})
const chosenSpool = computed(() => spools.value.find((s) => String(s.id) === spool.value))
const short = computed(() => (chosenSpool.value ? props.batch.took.mass_g - chosenSpool.value.left_g : 0))
const row = computed(() => `${props.only ? 'again' : 'plan'} ${props.batch.number}`)
const busy = computed(() => log.readying === row.value)

async function send(): Promise<void> {
  const way = { machine: machine.value || null, spool: spool.value ? Number(spool.value) : null }
  if (await log.send(props.batch.number, props.only, way)) open.value = false
}
const what = computed(() => {
  const pieces = props.batch.things.flatMap((t) => t.pieces)
  const loose = props.batch.things.filter((t) => !t.pieces.length).length
  const often = new Map<number, number>()
  for (const n of pieces) often.set(n, (often.get(n) ?? 0) + 1)
  const each = [...often].map(([n, count]) => (count > 1 ? `${count} × ${n}` : `${n}`))
  const parts = pieces.length ? [`piece${pieces.length > 1 ? 's' : ''} ${each.join(', ')}`] : []
  if (loose) parts.push(`${loose} loose ${loose === 1 ? 'part' : 'parts'}`)
  return parts.join(' and ')
})
</script>

<template>
  <div class="batch" data-test="send-row">
    <p>
      <b>{{ name }}</b> {{ what }}
      <button
        v-if="!open"
        class="chip"
        data-test="send"
        :disabled="batching.old || !project.upToDate || log.readying !== ''"
        @click="open = true"
      >
        Send
      </button>
    </p>
    <p class="small">
      <span :title="batch.rests_on"
        >{{ duration(batch.took.minutes_low) }} to {{ duration(batch.took.minutes_high) }},
        {{ Math.round(batch.took.mass_g) }} g</span
      >
      <span v-if="!(left ? left.enough : batch.enough)" class="bad">, not enough {{ batch.material }}</span>
      <span v-if="under.length" class="good">, under way</span>
      <span v-else-if="printed" class="good" data-test="is-printed">, printed</span>
      <span v-else-if="left?.made" class="soft">, {{ left.made }} of {{ left.all }} printed</span>
    </p>
    <p class="soft small" data-test="rests-on">{{ batch.rests_on }}</p>
    <form v-if="open" class="slip" @submit.prevent="send">
      <label
        >to
        <select v-model="machine" class="ruled" data-test="send-to" aria-label="Where it is sent">
          <option v-for="m in choices" :key="m.machine.id" :value="m.machine.id">
            {{ m.machine.name }}{{ m.answers ? '' : ' (gone)' }}{{ m.print_id || m.strange ? ' (busy)' : '' }}
          </option>
          <option value="">by hand: save the file</option>
        </select>
      </label>
      <label
        >from
        <select v-model="spool" class="ruled" data-test="send-from" aria-label="Spool">
          <option value="">no spool</option>
          <option v-for="s in spools" :key="s.id" :value="String(s.id)">
            {{ s.name }}, {{ Math.round(s.left_g) }} g
          </option>
        </select>
      </label>
      <p v-if="short > 0" class="bad small" data-test="too-little">
        {{ Math.ceil(short) }} g too little on this spool: it will run out.
      </p>
      <p v-else-if="chosenSpool" class="good small">
        Enough: {{ Math.round(-short) }} g will be left on this spool.
      </p>
      <div class="chips">
        <button type="button" class="chip" @click="open = false">Leave it</button>
        <button class="chip strong" data-test="send-out" :disabled="busy">
          {{ busy ? log.told.phrase || 'making it ready …' : 'Send it out' }}
        </button>
      </div>
    </form>
  </div>
</template>

<style scoped>
.batch {
  padding: 5px 0;
  border-top: 1px solid var(--line);
}
p {
  margin: 0;
}
p > .chip {
  float: right;
}
.strong {
  border-color: var(--cedar);
  color: var(--cedar);
  font-weight: 600;
}
</style>
