<script setup lang="ts">
/** The stations as leaves of a carpenter's folding rule; on a small screen it is drawn along under the finger. */
import { nextTick, useTemplateRef, watch } from 'vue'
import { STATIONS, type StationId } from '@/router'
import { useAssembly } from '@/stores/assembly'
import { useProject } from '@/stores/project'
import { useRoute } from 'vue-router'

const props = defineProps<{ station: StationId }>()
const rule = useTemplateRef<HTMLElement>('rule')
const project = useProject()
/** the project asked for is known before it is there */
const route = useRoute()
const assembly = useAssembly()

watch(
  () => props.station,
  async () => {
    await nextTick()
    rule.value?.querySelector('[aria-current]')?.scrollIntoView({ inline: 'center', block: 'nearest' })
  },
  { immediate: true },
)

function badge(id: string): { count: number; bad: boolean } | null {
  const waiting =
    id === 'check' || id === 'whole-job' ? [] : id === 'assemble' ? assembly.waiting : project.waiting(id)
  if (waiting.length === 0) return null
  return { count: waiting.length, bad: waiting.some((f) => f.severity === 'must-fix') }
}
</script>

<template>
  <nav ref="rule" class="rule" aria-label="Stations">
    <template v-for="(s, i) in STATIONS" :key="s.id">
      <span v-if="i > 0" class="pin" aria-hidden="true"></span>
      <router-link
        :to="`/projects/${String(route.params['id'])}/${s.id}`"
        class="leaf"
        :class="{ on: s.id === station }"
        :aria-current="s.id === station ? 'page' : undefined"
        :data-test="`station-${s.id}`"
      >
        <small>{{ i + 1 }}</small> <span class="word">{{ s.name }}</span>
        <span
          v-if="badge(s.id)"
          class="badge"
          :class="{ bad: badge(s.id)!.bad }"
          :title="`${badge(s.id)!.count} ${badge(s.id)!.bad ? 'to fix or look at' : 'to look at'}`"
        >
          {{ badge(s.id)!.bad ? '!' : '' }}{{ badge(s.id)!.count }}
        </span>
      </router-link>
    </template>
  </nav>
</template>

<style scoped>
.rule {
  display: flex;
  position: relative;
  border-top: 1px solid var(--brass);
  border-bottom: 1px solid var(--brass);
  background: linear-gradient(var(--rule-light), var(--rule-dark));
}
.leaf {
  flex: 1;
  display: flex;
  justify-content: center;
  align-items: center;
  gap: 7px;
  color: var(--rule-ink);
  text-decoration: none;
  font-weight: 500;
  padding-bottom: 6px;
  background-image:
    repeating-linear-gradient(90deg, var(--rule-ink) 0 1px, transparent 1px 50px),
    repeating-linear-gradient(90deg, rgb(77 55 23 / 70%) 0 1px, transparent 1px 10px);
  background-size:
    100% 9px,
    100% 5px;
  background-position: bottom;
  background-repeat: no-repeat;
}
.leaf small {
  font-size: 11px;
}
.leaf.on {
  background-color: var(--sheet);
  color: var(--cedar);
  font-weight: 600;
}
.pin {
  position: relative;
  width: 0;
}
.pin::after {
  content: '';
  position: absolute;
  left: -6px;
  top: 10px;
  width: 11px;
  height: 11px;
  border-radius: 50%;
  border: 1px solid #6d5212;
  background: radial-gradient(circle at 35% 30%, #e9cd7e, var(--brass));
  z-index: 1;
}
.badge {
  background: var(--ochre);
  color: var(--on-mark);
  font-size: 11px;
  line-height: 16px;
  min-width: 16px;
  padding: 0 5px;
  border-radius: 8px;
  text-align: center;
}
.badge.bad {
  background: var(--vermilion);
}
@media (max-width: 720px) {
  .rule {
    overflow-x: auto;
    scrollbar-width: none;
  }
  .leaf {
    flex: 1 0 auto;
    padding-inline: 15px;
  }
}
</style>
