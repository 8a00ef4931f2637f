<script setup lang="ts">
/** The area of a piece's layers over its height: small, level lines where it is wide. */
import { computed } from 'vue'
import { fixed, mm2 } from '@/api/format'

const props = defineProps<{ layers: readonly (readonly [number, number])[] }>()
const [WIDE, TALL] = [280, 54]
const most = computed(() => Math.max(1, ...props.layers.map(([, a]) => a)))
const top = computed(() => props.layers.at(-1)?.[0] ?? 1)
const path = computed(() => {
  const at = props.layers.map(([z, a]) => `${(z / top.value) * WIDE},${TALL - (a / most.value) * TALL}`)
  return `M0,${TALL} L${at.join(' L')} L${WIDE},${TALL} Z`
})
</script>

<template>
  <figure data-test="layer-plot">
    <svg
      :viewBox="`0 0 ${WIDE} ${TALL}`"
      preserveAspectRatio="none"
      role="img"
      aria-label="Area of the layers over height"
    >
      <path :d="path" />
    </svg>
    <figcaption class="soft">
      <span>layers, from the bed</span><span>at most {{ mm2(most) }}</span
      ><span>{{ fixed(top, 0) }} mm</span>
    </figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0 0 8px;
}
svg {
  display: block;
  width: 100%;
  height: 44px;
  border-bottom: 1px solid var(--ink);
}
path {
  fill: var(--section);
  stroke: var(--ink);
  vector-effect: non-scaling-stroke;
}
figcaption {
  display: flex;
  justify-content: space-between;
  font-size: 11.5px;
}
</style>
