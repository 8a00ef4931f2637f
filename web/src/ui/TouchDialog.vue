<script setup lang="ts">
/** Asked before an edit that would put printed pieces out of date: which, what that costs, and whether they can stay. */
import { computed } from 'vue'
import { duration, fixed } from '@/api/format'
import { useProject } from '@/stores/project'
import { useWorkshop } from '@/stores/workshop'

const project = useProject()
const workshop = useWorkshop()
const found = computed(() => project.touching?.found ?? null)
const touched = computed(() => found.value?.touched ?? [])
const stay = computed(() => touched.value.filter((t) => t.can_stay))
const cost = computed(() => {
  const all = found.value
  if (!all) return ''
  return `${Math.round(all.grams ?? 0)} g, ${duration(all.minutes ?? 0)}, ${workshop.currency} ${fixed(all.cost ?? 0, 2)}`
})
</script>

<template>
  <v-dialog
    :model-value="found !== null"
    max-width="520"
    persistent
    @keydown.esc="project.touching?.decide('leave')"
  >
    <div class="dialog" data-test="touches">
      <h2>
        This touches
        {{ touched.length === 1 ? 'a piece that is' : `${touched.length} pieces that are` }} printed
      </h2>
      <ul>
        <li v-for="t in touched" :key="t.key" data-test="touched">
          <b>{{ t.name }}</b>{{ ' '
          }}<span :class="t.can_stay ? 'good' : 'look'">{{ t.can_stay ? 'can stay:' : 'cannot stay:' }}</span>
          {{ t.why }}
        </li>
      </ul>
      <p>To print {{ touched.length === 1 ? 'it' : 'them' }} anew costs {{ cost }}.</p>
      <div class="actions">
        <v-btn variant="text" data-test="touch-leave" @click="project.touching?.decide('leave')"
          >Leave the edit</v-btn
        >
        <v-btn variant="outlined" data-test="touch-change" @click="project.touching?.decide('change')">
          Change {{ touched.length === 1 ? 'it' : 'them' }} all the same
        </v-btn>
        <v-btn
          v-if="stay.length"
          color="primary"
          data-test="touch-keep"
          @click="project.touching?.decide('keep')"
        >
          {{ stay.length === touched.length ? 'Keep as printed' : `Keep ${stay.length} as printed` }}
        </v-btn>
      </div>
    </div>
  </v-dialog>
</template>

<style scoped>
ul {
  margin: 8px 0;
  padding: 0 0 0 16px;
  max-height: 40vh;
  overflow: auto;
}
li {
  margin-bottom: 5px;
}
</style>
