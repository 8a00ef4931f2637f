<script setup lang="ts">
/** What prints of the model before a step and after it, in the same view. */
import { computed, onUnmounted, watch } from 'vue'
import { fixed } from '@/api/format'
import { usePrints, type Side } from '@/stores/prints'
import { useProject } from '@/stores/project'
import { useViewport } from '@/stores/viewport'
import PrintsFigures from '@/ui/PrintsFigures.vue'

const props = defineProps<{ step: string }>()
const prints = usePrints()
const viewport = useViewport()
const project = useProject()
const there = computed(() => (prints.fresh(props.step) ? prints.found!.sides : null))
const WORDS: Record<Side, string> = { before: 'Before, as it prints', after: 'After, as it prints' }
watch([() => props.step, () => project.revision?.revision], () => prints.leave())
onUnmounted(() => prints.leave())
</script>

<template>
  <div class="prints" data-test="step-prints">
    <h2>What prints of it</h2>
    <PrintsFigures :view="there ? prints.shown : null" />
    <p v-if="there?.before && there.after" class="good small" data-test="prints-both">
      Lost before {{ fixed(there.before.lost_mm3, 1) }} mm³, after {{ fixed(there.after.lost_mm3, 1) }} mm³.
    </p>
    <div class="chips">
      <button class="chip" :disabled="prints.busy" data-test="prints-look" @click="prints.step(step)">
        Look layer by layer
      </button>
      <template v-if="there">
        <button
          v-for="(words, which) in WORDS"
          :key="which"
          class="chip"
          :aria-pressed="!!viewport.prints && prints.side === which"
          :data-test="`prints-${which}`"
          @click="prints.show(viewport.prints && prints.side === which ? null : which)"
        >
          {{ words }}
        </button>
      </template>
      <button v-if="prints.busy" class="chip" @click="prints.stop">Stop</button>
      <span v-if="prints.busy" class="soft" role="status">{{ prints.told.phrase }} …</span>
    </div>
  </div>
</template>

<style scoped>
.prints {
  margin-top: 10px;
}
.small {
  font-size: 12px;
  margin: 2px 0 6px;
}
</style>
