<script setup lang="ts">
/** One step in the list: its tick, number, balloon and name. */
import { computed } from 'vue'
import { useAssembly, works, type AssemblyStep } from '@/stores/assembly'

const props = defineProps<{ step: AssemblyStep; picked: boolean | null }>()
const assembly = useAssembly()
const balloon = computed(() => assembly.units.get(props.step.lead)?.balloon ?? '')
const ticked = computed(() => assembly.bench.ticked.includes(props.step.lead))
const tick = (event: Event) => void assembly.tick(props.step.lead, (event.target as HTMLInputElement).checked)
</script>

<template>
  <span class="line">
    <i v-if="picked !== null" class="pick" :class="{ picked }" aria-hidden="true"></i>
    <span v-else class="grip" title="Drag to another place in the order" data-test="grip" @click.stop></span>
    <button class="plain tag" :aria-label="`Step ${step.step}`">{{ step.step }}</button>
    <span class="balloon">{{ balloon }}</span>
    <b class="grow">{{ step.title }}</b>
    <small v-if="!works(step)" class="bad">{{ step.proof }}</small>
    <small v-else-if="step.glue" class="look">glue</small>
    <input
      type="checkbox"
      class="tick"
      :checked="ticked"
      :aria-label="`Step ${step.step} is done`"
      data-test="tick"
      @click.stop
      @change="tick"
    />
  </span>
</template>

<style scoped>
.line {
  display: flex;
  align-items: center;
  gap: 8px;
  width: 100%;
  min-height: 26px;
}
.grip {
  width: 8px;
  height: 16px;
  flex: none;
  cursor: grab;
  background: radial-gradient(circle, var(--ink-soft) 1px, transparent 1.3px) 0 0 / 4px 4px repeat;
}
.line .tag {
  min-width: 16px;
}
.balloon {
  min-width: 20px;
  height: 20px;
  line-height: 18px;
  border: 1px solid var(--ink);
  border-radius: 10px;
  font-size: 11px;
  text-align: center;
  padding: 0 3px;
}
b {
  font-weight: 500;
}
.pick {
  width: 12px;
  height: 12px;
  border: 1px solid var(--ink);
  flex: none;
}
.pick.picked {
  background: var(--cedar);
}
.tick {
  accent-color: var(--moss);
  width: 16px;
  height: 16px;
  margin: 0;
}
@media (max-width: 600px) {
  .line {
    min-height: 44px;
  }
  .tick {
    width: 26px;
    height: 26px;
  }
}
</style>
