<script setup lang="ts">
/** One hint of the guide, below the view; it leads to the station it is about. */
import { watch } from 'vue'
import { useRouter } from 'vue-router'
import { stationName } from '@/router'
import { useGuide } from '@/stores/guide'
import { useProject } from '@/stores/project'

const guide = useGuide()
const router = useRouter()
const project = useProject()

watch(
  () => [guide.hint, project.revision?.project_id] as const,
  ([hint, id]) => {
    if (hint && id) void router.push(`/projects/${id}/${hint.station}`)
  },
  { immediate: true },
)
</script>

<template>
  <aside v-if="guide.hint" class="slip-of-guide" aria-label="Guide" aria-live="polite" data-test="guide">
    <b>{{ guide.at + 1 }} of {{ guide.hints.length }} · {{ stationName(guide.hint.station) }}</b>
    <span>{{ guide.hint.says }}</span>
    <span class="chips">
      <button class="chip" @click="guide.leave()">Leave the guide</button>
      <button class="chip" :disabled="guide.at === 0" @click="guide.turn(-1)">Back</button>
      <button class="chip on" @click="guide.turn(1)">
        {{ guide.at + 1 < guide.hints.length ? 'Next hint' : 'Done' }}
      </button>
    </span>
  </aside>
</template>

<style scoped>
.slip-of-guide {
  position: fixed;
  z-index: 5;
  left: 50%;
  bottom: 104px;
  transform: translateX(-50%);
  width: min(520px, calc(100vw - 24px));
  display: grid;
  gap: 6px;
  padding: 12px 16px;
  background: var(--sheet);
  border: 1px solid var(--indigo);
  border-left-width: 5px;
  box-shadow: 0 3px 14px rgb(0 0 0 / 18%);
  line-height: 1.4;
}
.chips {
  justify-content: flex-end;
}
.on {
  border-color: var(--cedar);
  color: var(--cedar);
  font-weight: 600;
}
</style>
