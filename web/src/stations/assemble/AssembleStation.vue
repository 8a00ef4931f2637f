<script setup lang="ts">
import { computed, watch } from 'vue'
import { useLooking } from '@/stores/looking'
import { useProject } from '@/stores/project'

const project = useProject()
const looking = useLooking()
const steps = computed(() => project.build?.assembly ?? [])
const nameOf = (number: number) => project.pieces.find((p) => p.number === number)?.name ?? `Piece ${number}`

watch(
  steps,
  (now) => {
    if (looking.step === null || !now.some((s) => s.step === looking.step)) looking.step = now.length || null
  },
  { immediate: true },
)
function go(step: number): void {
  looking.step = step
  looking.piece = steps.value.find((s) => s.step === step)?.piece ?? null
}
</script>

<template>
  <div class="block">
    <h2>
      Assembly <small>{{ steps.length }} steps, from the bottom up</small>
    </h2>
    <ol class="list">
      <li
        v-for="s in steps"
        :key="s.step"
        :class="{ on: s.step === looking.step }"
        data-test="step"
        @click="go(s.step)"
      >
        <button class="plain tag" :aria-label="`Step ${s.step}`">{{ s.step }}</button>
        <span class="what">
          <b>{{ nameOf(s.piece) }}</b>
          <small>{{ s.how }}</small>
          <small v-for="note in s.notes" :key="note" class="note" data-test="step-note">{{ note }}</small>
        </span>
      </li>
    </ol>
    <p v-if="steps.length === 0" class="soft">The steps come with the pieces, at Divide.</p>
    <div v-else class="chips">
      <button class="chip" :disabled="looking.step === 1" @click="go((looking.step ?? 2) - 1)">
        Step back
      </button>
      <button class="chip" :disabled="looking.step === steps.length" @click="go((looking.step ?? 0) + 1)">
        Next step
      </button>
    </div>
  </div>
  <div class="block">
    <p class="soft">
      Groups are built first and then moved as one; every move is straight, across the parting between them or
      along a slide. Whether something else stands in the way is not checked yet.
    </p>
  </div>
</template>

<style scoped>
.what {
  display: flex;
  flex-direction: column;
}
small {
  color: var(--ink-soft);
}
.note {
  color: var(--ink);
}
b {
  font-weight: 500;
}
.list {
  margin-bottom: 10px;
}
p {
  margin: 0;
}
</style>
