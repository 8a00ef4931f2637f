<script setup lang="ts">
/** How far the project is: in pieces, grams and hours; and whether pieces are seen on the model or on a board. */
import { fixed } from '@/api/format'
import { computed } from 'vue'
import { usePrintLog } from '@/stores/printlog'
import { useProject } from '@/stores/project'
import ShareBar from '@/ui/ShareBar.vue'
import WhatIs from '@/ui/WhatIs.vue'

const log = usePrintLog()
const project = useProject()
const bars = computed(() => {
  const now = log.standing
  if (!now) return []
  return [
    { name: 'Printed', ...now.pieces, unit: now.pieces.all === 1 ? 'part' : 'parts', digits: 0 },
    ...(now.grams ? [{ name: 'Material', ...now.grams, unit: 'g', digits: 0 }] : []),
    ...(now.hours ? [{ name: 'Time', ...now.hours, unit: 'h', digits: 1 }] : []),
    { name: 'Finished', ...now.installed, unit: now.installed.all === 1 ? 'part' : 'parts', digits: 0 },
  ]
})
</script>

<template>
  <div class="block">
    <h2>Print log <small>what was printed, and how it came out</small> <WhatIs word="out of date" /></h2>
    <dl v-if="log.standing" data-test="progress">
      <template v-for="bar in bars" :key="bar.name">
        <dt>{{ bar.name }}</dt>
        <dd>
          <ShareBar :done="bar.done" :all="bar.all" />
          {{ fixed(bar.done, bar.digits) }} of {{ fixed(bar.all, bar.digits) }} {{ bar.unit }}
        </dd>
      </template>
    </dl>
    <p v-else class="soft">
      {{ project.upToDate ? 'Reading the log …' : 'How far it is shows when the pieces are built.' }}
    </p>
    <div class="chips" role="group" aria-label="How pieces are shown">
      <button class="chip" :aria-pressed="!log.board" data-test="on-model" @click="log.board = false">
        On the model
      </button>
      <button class="chip" :aria-pressed="log.board" data-test="on-board" @click="log.board = true">
        On a board
      </button>
    </div>
  </div>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 62px 1fr;
  gap: 1px 8px;
  margin: 0 0 8px;
  font-size: 12px;
}
dt {
  color: var(--ink-soft);
}
dd {
  margin: 0;
  display: flex;
  align-items: center;
  gap: 8px;
}
</style>
