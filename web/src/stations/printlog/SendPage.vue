<script setup lang="ts">
/** What is printed next: the plan's batches, what must be printed again, what is under way, and where it can go. */
import { useIntervalFn } from '@vueuse/core'
import { computed } from 'vue'
import type { Batch, Batches } from '@/stores/batching'
import { useBatching } from '@/stores/batching'
import { usePrintLog } from '@/stores/printlog'
import MachinesBlock from './MachinesBlock.vue'
import SendRow from './SendRow.vue'
import SpoolsBlock from './SpoolsBlock.vue'
import UnderWay from './UnderWay.vue'

const log = usePrintLog()
const batching = useBatching()
const EVERY_MS = 3000
useIntervalFn(() => void log.loadMachines(), EVERY_MS, { immediateCallback: true })

const leftOf = (batch: Batch) => log.log?.left?.find((l) => l.batch === batch.number) ?? null
const again = computed(() => log.standing?.again ?? [])
/** the reprint that was laid out, while it is still what must be printed again */
const reprint = computed<Batches | null>(() => {
  const now = log.reprint
  const same = again.value.every((a) => now?.only[a.key] === a.count)
  return now && again.value.length && same ? now.batches : null
})
</script>

<template>
  <div v-if="log.active.length" class="block" data-test="under-way">
    <h2>Under way</h2>
    <UnderWay v-for="p in log.active" :key="p.id" :print="p" />
  </div>
  <div v-if="again.length" class="block" data-test="again">
    <h2>
      Print again <small>{{ again.length }} {{ again.length === 1 ? 'thing' : 'things' }}</small>
    </h2>
    <p v-for="a in again" :key="a.key" class="small">
      {{ a.count > 1 ? `${a.count} × ` : '' }}{{ a.number ? `${a.number} ` : '' }}{{ a.name }}
      <span class="look">{{ a.why.join(', ') }}</span>
    </p>
    <button v-if="!reprint" class="wide" data-test="lay-again" :disabled="log.laying" @click="log.layAgain()">
      {{ log.laying ? 'laying out …' : 'Make a batch of these' }}
    </button>
    <template v-else>
      <SendRow
        v-for="b in reprint.batches"
        :key="b.number"
        :batch="b"
        :only="log.reprint!.only"
        :left="null"
      />
      <p v-for="s in reprint.said" :key="s" class="look small">{{ s }}</p>
    </template>
  </div>
  <div class="block" data-test="to-send">
    <h2>
      The plan’s batches <small>{{ batching.batches?.batches.length ?? '' }}</small>
    </h2>
    <p v-if="batching.busy" class="soft" role="status">laying out …</p>
    <p v-else-if="!batching.batches" class="soft">They are laid out once the pieces are built.</p>
    <SendRow
      v-for="b in batching.batches?.batches"
      :key="b.number"
      :batch="b"
      :only="null"
      :left="leftOf(b)"
    />
  </div>
  <MachinesBlock />
  <SpoolsBlock />
</template>

<style scoped>
.small {
  font-size: 12px;
  margin: 0 0 5px;
}
</style>
