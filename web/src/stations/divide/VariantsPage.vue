<script setup lang="ts">
/** Whole divisions kept under names, their figures side by side, and a way to switch. */
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { api, got, type RevisionView, type Schemas } from '@/api/client'
import { run } from '@/api/operations'
import { useSelection } from '@/stores/selection'
import { useProject } from '@/stores/project'
import { figureRows } from './figures'
import RuledText from '@/ui/RuledText.vue'

const project = useProject()
const selection = useSelection()
const comparison = shallowRef<Schemas['DivisionsView'] | null>(null)
const name = ref('')
const variants = computed(() => project.plan?.variants ?? [])
const columns = computed(() => comparison.value?.divisions ?? [])
const rows = computed(() => {
  const all = columns.value.map((c) => (c.figures ? figureRows(c.figures) : []))
  const names = all.find((r) => r.length)?.map((r) => r.name) ?? []
  return names.map((title, k) => ({ title, cells: all.map((r) => r[k]) }))
})

async function compare(): Promise<void> {
  const now = project.revision
  if (!now || project.build?.state !== 'whole') return
  try {
    const found = await run('compare-variants', now.project_id)
    if (project.revision?.revision === now.revision) comparison.value = found
  } catch (error) {
    await project.refused(error)
  }
}
onMounted(() => void compare())
watch(
  () => project.build,
  () => void compare(),
)

async function wish(wanted: Schemas['VariantWish']): Promise<void> {
  const now = project.revision
  if (!now) return
  try {
    const params = { path: { project_id: now.project_id } }
    const body = { base_revision: now.revision, wish: wanted }
    project.took(
      got<RevisionView>(
        await api.POST('/api/projects/{project_id}/variants', { params, body: body as never }),
      ),
    )
    if (wanted.do === 'switch') selection.parting = null
    name.value = ''
  } catch (error) {
    await project.refused(error)
  }
}
function rename(variant: string | null, name: string): void {
  void wish({ do: 'rename', variant, name })
}
</script>

<template>
  <div class="block">
    <p class="soft">
      A variant is a whole division with its joints. The one worked on is the first; taking a proposal keeps
      the one before.
    </p>
    <ul class="list">
      <li class="on">
        <RuledText
          maxlength="60"
          label="Name of the division worked on"
          :model-value="project.plan?.division_name"
          @update:model-value="rename(null, $event)"
        />
        <span class="end">worked on</span>
      </li>
      <li v-for="v in variants" :key="v.id" data-test="variant">
        <RuledText
          maxlength="60"
          :label="`Name of variant ${v.name}`"
          :model-value="v.name"
          @update:model-value="rename(v.id, $event)"
        />
        <button class="chip" data-test="switch" @click="wish({ do: 'switch', variant: v.id, name: '' })">
          Switch
        </button>
        <button
          class="plain"
          :aria-label="`Drop variant ${v.name}`"
          @click="wish({ do: 'drop', variant: v.id, name: '' })"
        >
          ×
        </button>
      </li>
    </ul>
    <form class="keep" @submit.prevent="wish({ do: 'keep', variant: null, name })">
      <input
        v-model="name"
        class="ruled"
        maxlength="60"
        placeholder="keep it as it is, under a name"
        aria-label="Name for the kept variant"
        data-test="variant-name"
      />
      <button class="chip" :disabled="!name.trim()" data-test="keep-variant">Keep</button>
    </form>
  </div>
  <div v-if="rows.length" class="block">
    <table class="plain-table" data-test="comparison">
      <thead>
        <tr>
          <th></th>
          <th v-for="c in columns" :key="c.variant ?? ''" class="num">{{ c.name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.title">
          <th>{{ r.title }}</th>
          <td v-for="(cell, k) in r.cells" :key="k" class="num" :class="{ bad: cell?.bad }">
            {{ cell?.text }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.list {
  margin-bottom: 8px;
}
.list input {
  flex: 1;
  border-color: var(--line-strong);
}
.keep {
  display: flex;
  gap: 8px;
}
table {
  display: block;
  overflow-x: auto;
}
th.num {
  font-weight: 600;
  color: var(--ink);
}
p {
  margin: 0 0 8px;
  font-size: 12.5px;
}
</style>
