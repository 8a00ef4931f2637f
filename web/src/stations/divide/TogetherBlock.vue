<script setup lang="ts">
/** Pieces that stay one although a parting separates them, and what counts as a sliver. */
import { computed, ref } from 'vue'
import { useProject } from '@/stores/project'
import RuledNumber from '@/ui/RuledNumber.vue'

const project = useProject()
const groups = computed(() => project.plan?.together ?? [])
const ticked = ref<string[]>([])
const numberOf = (key: string) => project.pieces.find((p) => p.key === key)?.number

const words = (keys: readonly string[]): string => {
  const first = numberOf(keys[0]!)
  return first === undefined
    ? 'pieces that are not there now'
    : `in piece ${first}: ${keys.length} joined again`
}
async function join(): Promise<void> {
  const keys = project.pieces.filter((p) => ticked.value.includes(p.key)).map((p) => p.key)
  const kept = await project.edit('Kept pieces together', (plan) => {
    plan.together = [...(plan.together ?? []), { pieces: keys }]
  })
  if (kept) ticked.value = []
}
function part(at: number): void {
  void project.edit('Parted pieces again', (plan) => {
    plan.together = plan.together?.filter((_, k) => k !== at)
  })
}
function setSliver(value: number | null): void {
  void project.edit('Size of slivers', (plan) => {
    plan.sliver_mm3 = value ?? 0
  })
}
</script>

<template>
  <div class="block">
    <div class="row wide-label">
      <span class="label">Keep together</span>
      <v-menu :close-on-content-click="false" location="top">
        <template #activator="{ props: menu }">
          <button v-bind="menu" class="chip fit" :disabled="project.pieces.length < 2" data-test="together">
            {{ ticked.length ? `${ticked.length} pieces` : 'choose pieces' }} ▾
          </button>
        </template>
        <div class="menu">
          <label v-for="p in project.pieces" :key="p.key">
            <input
              v-model="ticked"
              type="checkbox"
              :value="p.key"
              data-test="together-pick"
              :data-key="p.key"
            />
            {{ p.number }} {{ p.name }}
          </label>
          <button class="chip" :disabled="ticked.length < 2" data-test="together-join" @click="join">
            Join again
          </button>
        </div>
      </v-menu>
    </div>
    <ul v-if="groups.length" class="list">
      <li v-for="(group, k) in groups" :key="k" data-test="together-group">
        <span class="grow">{{ words(group.pieces) }}</span>
        <button class="chip" @click="part(k)">Part again</button>
      </li>
    </ul>
    <div class="row wide-label">
      <span class="label">Slivers under</span>
      <RuledNumber
        :model-value="project.plan?.sliver_mm3 ?? 1"
        label="Volume under which a piece is a sliver"
        unit="mm³"
        :min="0"
        :max="1e6"
        data-test="sliver"
        @update:model-value="setSliver"
      />
    </div>
  </div>
</template>

<style scoped>
.row.wide-label {
  grid-template-columns: 96px 1fr;
}
.fit {
  width: fit-content;
}
.row :deep(.ruled-number) {
  width: 110px;
}
</style>
