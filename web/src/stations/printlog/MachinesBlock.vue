<script setup lang="ts">
/** The printers that batches can be sent to: how they are, added, changed, taken out. */
import { ref } from 'vue'
import { api, type Schemas } from '@/api/client'
import { usePrintLog } from '@/stores/printlog'
import { useWorkshop } from '@/stores/workshop'

type Machine = Schemas['Machine']
const log = usePrintLog()
const workshop = useWorkshop()
const draft = ref<Machine | null>(null)

function begin(one?: Machine): void {
  const first = workshop.printers[0]?.id ?? ''
  draft.value = one
    ? { ...one }
    : { id: '', name: '', way: 'http', address: 'http://127.0.0.1:8471', printer_id: first, spool_id: null }
}
async function keep(): Promise<void> {
  const body = draft.value
  if (!body) return
  const done = await log.change(() =>
    body.id
      ? api.PUT('/api/machines/{machine_id}', { params: { path: { machine_id: body.id } }, body })
      : api.POST('/api/machines', { body }),
  )
  if (done) draft.value = null
  await log.loadMachines()
}
async function drop(): Promise<void> {
  const id = draft.value?.id
  if (!id) return
  const path = { machine_id: id }
  if (await log.change(() => api.DELETE('/api/machines/{machine_id}', { params: { path } })))
    draft.value = null
  await log.loadMachines()
}
</script>

<template>
  <div class="block" data-test="machines">
    <h2>Printers <small>where batches go</small></h2>
    <p v-for="m in log.machines" :key="m.machine.id" class="machine" data-test="machine">
      <span
        class="dot"
        :class="m.answers ? (m.strange ? 'strange' : 'there') : 'gone'"
        aria-hidden="true"
      ></span>
      <span class="grow">
        {{ m.machine.name }}
        <small :class="m.answers && !m.strange ? 'soft' : 'bad'"
          >{{ m.says
          }}<template v-if="m.nozzle_c && m.nozzle_c > 30">, {{ Math.round(m.nozzle_c) }} °C</template></small
        >
      </span>
      <button class="chip" :aria-label="`Change ${m.machine.name}`" @click="begin(m.machine)">Change</button>
    </p>
    <p v-if="!log.machines.length" class="soft small">
      None yet. A batch can always go out by hand: its file is saved, and you say how it went.
    </p>
    <form v-if="draft" class="slip" data-test="machine-form" @submit.prevent="keep">
      <label>Name <input v-model="draft.name" class="ruled" maxlength="80" data-test="machine-name" /></label>
      <label
        >Reached by
        <select v-model="draft.way" class="ruled" data-test="machine-way">
          <option value="http">its address</option>
          <option value="folder">a folder</option>
        </select>
      </label>
      <label
        >{{ draft.way === 'http' ? 'Address' : 'Folder' }}
        <input v-model="draft.address" class="ruled" maxlength="500" data-test="machine-address" />
      </label>
      <label
        >It is a
        <select v-model="draft.printer_id" class="ruled" data-test="machine-printer">
          <option v-for="p in workshop.printers" :key="p.id" :value="p.id">{{ p.name }}</option>
        </select>
      </label>
      <label
        >Loaded
        <select v-model="draft.spool_id" class="ruled" data-test="machine-spool">
          <option :value="null">not said</option>
          <option v-for="s in log.spools" :key="s.id" :value="s.id">{{ s.name }}</option>
        </select>
      </label>
      <div class="chips">
        <button type="button" class="chip" @click="draft = null">Leave it</button>
        <button v-if="draft.id" type="button" class="chip" @click="drop">Take it out</button>
        <button class="chip" data-test="machine-keep" :disabled="!draft.name.trim()">Keep</button>
      </div>
    </form>
    <button v-else class="chip" data-test="machine-new" @click="begin()">A printer more</button>
  </div>
</template>

<style scoped>
.machine {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 0 0 5px;
}
.grow {
  flex: 1;
  min-width: 0;
}
small {
  display: block;
}
.dot {
  width: 9px;
  height: 9px;
  border: 1px solid var(--ink);
}
.there {
  background: var(--moss);
  border-radius: 50%;
}
.gone {
  background: none;
  transform: rotate(45deg);
}
.strange {
  background: var(--ochre);
}
</style>
