<script setup lang="ts">
/** What of a piece, of a group of pieces, or of a whole part is printed otherwise than the project says. */
import { computed, ref, watch } from 'vue'
import type { Plan, Schemas } from '@/api/client'
import { noted, projectKey } from '@/api/notes'
import { useParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import RuledText from '@/ui/RuledText.vue'
import SchemaForm from '@/ui/SchemaForm.vue'

type Own = Schemas['SharedSettings']
type Group = NonNullable<Plan['groups']>[number]
const props = defineProps<{ keys: string[]; name: string }>()
const project = useProject()
const parts = useParts()
/** a piece, its part, or the id of a group */
const scope = ref<string>('piece')
const open = ref(false)
const LAYERS = { fine: 'Fine', usual: 'Usual', coarse: 'Coarse' } as const
const groups = computed<Group[]>(() => project.plan?.groups ?? [])
const group = computed(() => groups.value.find((g) => g.id === scope.value) ?? null)
/** keys of the pieces in the whole project */
const projectKeys = computed(() => props.keys.map((key) => projectKey(project.plan, key)))
const within = (g: Group) => projectKeys.value.every((key) => g.pieces?.includes(key))
watch(groups, (now) => {
  if (scope.value.startsWith('g') && !now.some((g) => g.id === scope.value)) scope.value = 'piece'
})
const ofPiece = computed<Own>(() => project.plan?.pieces?.[props.keys[0] ?? '']?.printing ?? {})
const ofPart = computed<Own>(() => project.plan?.own_printing ?? {})
const own = computed<Own>(() =>
  group.value ? (group.value.printing ?? {}) : scope.value === 'part' ? ofPart.value : ofPiece.value,
)
const differs = computed(
  () =>
    [ofPiece.value, ofPart.value].some((o) => Object.values(o).some((v) => v != null)) ||
    groups.value.some((g) => g.pieces?.some((key) => projectKeys.value.includes(key))),
)
const wider = computed(() =>
  scope.value === 'piece'
    ? 'as its group, its part and the project'
    : group.value
      ? 'as the part and the project'
      : 'as the project',
)
const choices = computed(() => {
  const plan = project.plan
  return [
    {
      field: 'printer_id',
      title: 'Printer',
      of: plan?.printer ? [plan.printer, ...(plan.more_printers ?? [])] : [],
    },
    {
      field: 'material_id',
      title: 'Material',
      of: plan?.material ? [plan.material, ...(plan.more_materials ?? [])] : [],
    },
  ] as const
})
const whose = computed(() =>
  group.value
    ? group.value.name || `group ${group.value.id.slice(1)}`
    : scope.value === 'piece'
      ? props.name
      : (parts.open?.name ?? 'the part'),
)
/** what the pieces of the group are called */
const members = computed(() =>
  (group.value?.pieces ?? []).map((key) => ({
    key,
    name: project.build?.needed?.find((n) => n.key === key)?.name ?? key,
  })),
)

function set(field: string, value: unknown, title: string): void {
  const next = { ...own.value, [field]: value } as Own
  void project.edit(`${title} of ${whose.value}`.slice(0, 120), (plan) => {
    if (group.value) put(plan, { ...group.value, printing: next })
    else if (scope.value === 'part') plan.own_printing = next
    else for (const key of props.keys) noted(plan, key, { printing: next })
  })
}
function put(plan: Plan, changed: Group): void {
  plan.groups = plan.groups?.map((g) => (g.id === changed.id ? changed : g))
}
function choose(event: Event): void {
  const wanted = (event.target as HTMLSelectElement).value
  if (wanted !== 'new') scope.value = wanted
  else void begin()
}
async function begin(): Promise<void> {
  const id = `g${Math.max(0, ...groups.value.map((g) => Number(g.id.slice(1)))) + 1}`
  const made = await project.edit(`Began a group with ${props.name}`.slice(0, 120), (plan) => {
    plan.groups = [...(plan.groups ?? []), { id, name: '', pieces: projectKeys.value, printing: {} } as Group]
  })
  if (made) scope.value = id
}
function change(changes: Partial<Group>, label: string): void {
  const own = group.value
  if (own) void project.edit(label.slice(0, 120), (plan) => put(plan, { ...own, ...changes }))
}
/** Take these pieces into the group, or out of it; what another group had goes over. */
function toggle(keys: string[], name: string): void {
  const own = group.value
  if (!own) return
  const out = keys.every((key) => own.pieces?.includes(key))
  void project.edit(`${name} ${out ? 'out of' : 'into'} ${whose.value}`.slice(0, 120), (plan) => {
    plan.groups = plan.groups?.map((g) => {
      const rest = (g.pieces ?? []).filter((key) => !keys.includes(key))
      return g.id === own.id && !out ? { ...g, pieces: [...rest, ...keys] } : { ...g, pieces: rest }
    })
  })
}
function drop(): void {
  const own = group.value
  if (!own) return
  scope.value = 'piece'
  void project.edit(`Dissolved ${own.name || `group ${own.id.slice(1)}`}`.slice(0, 120), (plan) => {
    plan.groups = plan.groups?.filter((g) => g.id !== own.id)
  })
}
</script>

<template>
  <button
    class="chip"
    :aria-pressed="open || differs"
    :aria-expanded="open"
    data-test="own-settings"
    @click="open = !open"
  >
    Printed otherwise …
  </button>
  <template v-if="open">
    <div class="row">
      <label for="own-scope">Holds for</label>
      <select id="own-scope" class="ruled" data-test="own-scope" :value="scope" @change="choose">
        <option value="piece">this piece</option>
        <option value="part">all of {{ parts.open?.name ?? 'the part' }}</option>
        <option v-for="g in groups" :key="g.id" :value="g.id">
          {{ g.name || `group ${g.id.slice(1)}` }}{{ within(g) ? '' : ' (it is not in it)' }}
        </option>
        <option value="new">a new group …</option>
      </select>
    </div>
    <template v-if="group">
      <div class="row">
        <span class="label">Name</span>
        <RuledText
          :model-value="group.name ?? ''"
          label="Name of the group"
          :placeholder="`group ${group.id.slice(1)}`"
          data-test="group-name"
          @update:model-value="change({ name: $event }, `Named a group ${$event}`)"
        />
      </div>
      <div class="chips" role="group" aria-label="Pieces of the group">
        <button
          v-for="m in members"
          :key="m.key"
          class="chip"
          :aria-label="`${m.name}: take out of the group`"
          data-test="group-member"
          @click="toggle([m.key], m.name)"
        >
          {{ m.name }} ×
        </button>
        <button v-if="!within(group)" class="chip" data-test="group-take" @click="toggle(projectKeys, name)">
          Take {{ name }} in
        </button>
        <button class="chip" data-test="group-drop" @click="drop">Dissolve it</button>
      </div>
    </template>
    <template v-if="scope !== 'piece'">
      <template v-for="one in choices" :key="one.field">
        <div v-if="one.of.length > 1" class="row">
          <label :for="`own-${one.field}`">{{ one.title }}</label>
          <select
            :id="`own-${one.field}`"
            class="ruled"
            :data-test="`own-${one.field}`"
            :value="own[one.field] ?? ''"
            @change="set(one.field, ($event.target as HTMLSelectElement).value || null, one.title)"
          >
            <option value="">{{ wider }}</option>
            <option v-for="o in one.of" :key="o.id" :value="o.id">{{ o.name }}</option>
          </select>
        </div>
      </template>
    </template>
    <div class="row">
      <label for="own-layers">Layers</label>
      <select
        id="own-layers"
        class="ruled"
        data-test="own-layers"
        :value="own.layers ?? ''"
        @change="set('layers', ($event.target as HTMLSelectElement).value || null, 'Layers')"
      >
        <option value="">{{ wider }}</option>
        <option v-for="(words, layers) in LAYERS" :key="layers" :value="layers">{{ words }}</option>
      </select>
    </div>
    <SchemaForm
      schema="OwnSettings"
      :fields="['walls', 'skins', 'infill_percent', 'brim_mm']"
      :value="own"
      @change="set"
    />
    <p class="soft small">
      What is left empty is {{ wider }} (Estimates). Other layers, printers and materials need beds of their
      own.
    </p>
  </template>
</template>

<style scoped>
.small {
  font-size: 12px;
  margin: 2px 0 4px;
}
</style>
