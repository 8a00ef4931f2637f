<script setup lang="ts">
/** One print under way: how far it is, and what can be done about it. */
import { computed } from 'vue'
import { duration } from '@/api/format'
import { usePrintLog, type Print } from '@/stores/printlog'
import { dateLanguage } from '@/words/language'

const props = defineProps<{ print: Print }>()
const log = usePrintLog()
const one = computed(() => props.print.progress)
const followed = computed(() => {
  const machine = log.machines.find((m) => m.machine.id === props.print.machine_id)
  return props.print.machine_id !== null && machine?.machine.way !== 'folder'
})
const left = computed(() => props.print.batch.expected_minutes * (1 - one.value.fraction))
const WORDS: Partial<Record<Print['state'], string>> = { sending: 'on its way', sent: 'waiting to begin' }
const gone = computed(() =>
  props.print.gone_since
    ? `No answer since ${new Date(props.print.gone_since).toLocaleTimeString(dateLanguage(), { hour: '2-digit', minute: '2-digit' })}`
    : '',
)
</script>

<template>
  <div class="print" data-test="active-print">
    <p>
      <b>{{ print.number }}</b> {{ print.batch.title }}
      <small class="soft">{{ print.machine }}</small>
    </p>
    <v-progress-linear
      :model-value="100 * one.fraction"
      color="primary"
      height="5"
      :aria-label="`Print ${print.number}`"
    />
    <p class="small" data-test="print-state">
      {{ WORDS[print.state] ?? print.state
      }}<template v-if="one.fraction > 0"
        >, layer {{ one.layer }} of {{ one.layers }}, about {{ duration(left) }} left</template
      ><template v-if="one.nozzle_c">, {{ Math.round(one.nozzle_c) }} °C</template>
    </p>
    <p v-if="one.said && !gone" class="look small">{{ one.said }}</p>
    <p v-if="gone" class="bad small" data-test="gone">{{ gone }}. {{ one.said }}</p>
    <div class="chips">
      <template v-if="followed">
        <button
          v-if="print.state === 'printing'"
          class="chip"
          data-test="pause"
          @click="log.tell(print.id, 'pause')"
        >
          Pause
        </button>
        <button
          v-if="print.state === 'paused'"
          class="chip"
          data-test="resume"
          @click="log.tell(print.id, 'resume')"
        >
          Go on
        </button>
        <button class="chip" data-test="stop-print" @click="log.tell(print.id, 'stop')">Stop</button>
      </template>
      <template v-if="!followed || gone">
        <button
          v-if="print.state === 'sent'"
          class="chip"
          data-test="say-begun"
          @click="log.say(print.id, 'printing')"
        >
          It has begun
        </button>
        <button class="chip" data-test="say-done" @click="log.say(print.id, 'done')">It is done</button>
        <button class="chip" data-test="say-broke" @click="log.say(print.id, 'broke off')">
          It broke off
        </button>
      </template>
    </div>
  </div>
</template>

<style scoped>
.print {
  padding: 4px 0 7px;
  border-top: 1px solid var(--line);
}
p {
  margin: 2px 0;
}
</style>
