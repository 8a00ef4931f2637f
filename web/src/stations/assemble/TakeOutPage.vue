<script setup lang="ts">
/** To take something out again: what comes off first, in order, or that it cannot. */
import { computed, onBeforeUnmount } from 'vue'
import { useAssembly } from '@/stores/assembly'

const assembly = useAssembly()
const chosen = computed(() => assembly.replacing)
const must = computed(() => new Set(assembly.wish?.comes_off ?? []))
const rows = computed(() =>
  (assembly.view?.replacing ?? []).map((r) => ({ ...r, of: assembly.units.get(r.unit) })),
)
const word = (r: { possible: boolean; breaks?: unknown[]; first?: unknown[] }) =>
  !r.possible
    ? 'locked in'
    : r.breaks?.length
      ? 'glued'
      : r.first?.length
        ? `after ${r.first.length}`
        : 'free'
onBeforeUnmount(() => (assembly.out = null))
</script>

<template>
  <div class="block">
    <p class="soft small">Choose what you want to have out of the finished model.</p>
    <ul class="list" data-test="replace-list">
      <li
        v-for="r in rows"
        :key="r.unit"
        :class="{ on: r.unit === assembly.out }"
        data-test="replace"
        @click="((assembly.out = r.unit), assembly.go(assembly.steps.length))"
      >
        <button class="plain tag">{{ r.of?.balloon }}</button>
        <span class="grow">{{ r.of?.name }}</span>
        <span v-if="must.has(r.unit)" class="end">must come off</span>
        <span class="end" :class="{ bad: !r.possible, look: r.breaks?.length }">{{ word(r) }}</span>
      </li>
    </ul>
  </div>
  <div v-if="chosen" class="block" data-test="replacing">
    <p :class="{ bad: !chosen.possible, look: chosen.breaks?.length }">{{ chosen.says }}</p>
    <ol v-if="chosen.possible">
      <li v-for="(off, k) in chosen.first" :key="k" data-test="comes-off-first">
        {{ off.words }} <small v-if="off.proof !== 'proved'" class="look">{{ off.proof }}</small>
      </li>
      <li v-if="chosen.itself">
        <b>{{ chosen.itself.words }}</b>
        <small v-if="chosen.itself.proof !== 'proved'" class="look"> {{ chosen.itself.proof }}</small>
      </li>
    </ol>
  </div>
</template>

<style scoped>
p {
  margin: 0 0 6px;
}
.small {
  font-size: 12px;
}
ol {
  margin: 0;
  padding-left: 20px;
}
ol > li {
  margin-bottom: 3px;
}
</style>
