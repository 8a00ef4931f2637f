<script setup lang="ts">
/** Versions of a joint: kept under a name with a note, what was printed with each and how it was, compared, gone back to. */
import { computed, ref, watch } from 'vue'
import { api, got, type Joint, type Plan, type Schemas } from '@/api/client'
import { fixed } from '@/api/format'
import { ANSWERS } from '@/api/states'
import { useProject } from '@/stores/project'
import RuledText from '@/ui/RuledText.vue'
import { fieldsOf } from '@/ui/schema'
import { infoOf } from './joints'

type Try = NonNullable<Plan['joint_tries']>[number]
const props = defineProps<{ joint: Joint }>()
const emit = defineEmits<{ change: [what: string, next: Joint] }>()
const project = useProject()
const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other)
const tries = computed(() =>
  (project.plan?.joint_tries ?? []).filter(
    (t) => t.joint.id === props.joint.id && same(t.joint.face, props.joint.face),
  ),
)
const clearance = computed(() => project.joints.find((j) => j.id === props.joint.id)?.clearance_mm ?? 0)
const isNow = (one: Try) =>
  same(one.joint, props.joint) && Math.abs((one.clearance_mm ?? 0) - clearance.value) < 1e-6
const kept = computed(() => tries.value.some(isNow))

/** What of a version is not as the joint is now. */
function differs(one: Try): string {
  if (one.joint.kind !== props.joint.kind) return infoOf(one.joint.kind).name.toLowerCase()
  const fields = fieldsOf(infoOf(one.joint.kind).model)
  const [was, now] = [one.joint, props.joint] as unknown as Record<string, unknown>[]
  const words = (v: unknown) =>
    v === null || v === undefined ? 'none' : typeof v === 'object' ? 'others' : String(v)
  const found = Object.keys(was!)
    .filter((field) => field !== 'clearance_mm' && !same(was![field], now![field]))
    .map(
      (field) =>
        `${(fields[field]?.title ?? field).toLowerCase()} ${words(was![field])}, now ${words(now![field])}`,
    )
  const gap = (one.clearance_mm ?? 0) - clearance.value
  if (Math.abs(gap) > 1e-6)
    found.unshift(
      `clearance ${fixed(one.clearance_mm ?? 0, 2)}, now ${fixed(clearance.value, 2)} mm each side`,
    )
  return found.join('; ')
}
/** Such as “0.1 wider” where only the clearance is not that of the version before. */
function described(): string {
  const last = tries.value.at(-1)
  const by = last ? clearance.value - (last.clearance_mm ?? 0) : 0
  return Math.abs(by) > 1e-6 ? `, ${fixed(Math.abs(by), 2)} ${by > 0 ? 'wider' : 'tighter'}` : ''
}
function keep(): void {
  const number = Math.max(0, ...(project.plan?.joint_tries ?? []).map((t) => Number(t.id.slice(1)))) + 1
  const own: Try = {
    id: `t${number}`,
    name: `V${tries.value.length + 1}${described()}`,
    note: '',
    joint: props.joint,
    clearance_mm: clearance.value,
    answer: null,
  }
  void project.edit(`Kept ${own.name} of ${infoOf(props.joint.kind).name}`, (plan) => {
    plan.joint_tries = [...(plan.joint_tries ?? []), own]
  })
}
function set(one: Try, changes: Partial<Try>, label: string): void {
  void project.edit(`${label} of ${one.name || one.id}`.slice(0, 120), (plan) => {
    plan.joint_tries = plan.joint_tries?.map((t) => (t.id === one.id ? ({ ...t, ...changes } as Try) : t))
  })
}
function drop(one: Try): void {
  void project.edit(`Dropped ${one.name || one.id}`.slice(0, 120), (plan) => {
    plan.joint_tries = plan.joint_tries?.filter((t) => t.id !== one.id)
  })
}
/** Its figures again, with the clearance it was printed with, whatever its fit has now. */
function goBack(one: Try): void {
  const typed = one.joint.clearance_mm ?? null
  const moved = typed === null && Math.abs((one.clearance_mm ?? 0) - fitNow(one.joint)) > 1e-6
  const next = { ...one.joint, clearance_mm: moved ? one.clearance_mm : typed } as Joint
  emit('change', `Back to ${one.name || one.id}`, next)
}
const fitNow = (joint: Joint): number =>
  (project.plan?.fits as Record<string, number> | undefined)?.[joint.fit ?? 'snug'] ?? 0

/** what came of each in the print log */
const printed = ref<Schemas['JointVersions'] | null>(null)
async function look(): Promise<void> {
  const id = project.revision?.project_id
  if (!id || !tries.value.length) return
  try {
    printed.value = got(
      await api.GET('/api/projects/{project_id}/joints/{joint}/versions', {
        params: { path: { project_id: id, joint: props.joint.id } },
      }),
    )
  } catch (error) {
    await project.refused(error)
  }
}
watch(() => [props.joint.id, project.revision?.revision, tries.value.length], look, { immediate: true })
function came(list: readonly Schemas['PrintedWith'][] | undefined): string {
  return (list ?? [])
    .map(
      (p) =>
        `print ${p.number}, ${p.name}: ${p.reason ?? p.result ?? p.state}${p.note ? ` (${p.note})` : ''}`,
    )
    .join('; ')
}
</script>

<template>
  <div class="versions" data-test="versions">
    <p v-if="!tries.length" class="soft small">
      Keep a joint as a version before you change it for the next try: what was printed with it and how it was
      is found here again.
    </p>
    <div v-for="one in tries" :key="one.id" class="try" data-test="version">
      <div class="head">
        <RuledText
          :model-value="one.name ?? ''"
          label="Name of the version"
          placeholder="its name"
          data-test="version-name"
          @update:model-value="set(one, { name: $event }, 'Name')"
        />
        <span v-if="isNow(one)" class="good" data-test="version-now">as it is now</span>
        <button v-else class="chip" data-test="version-back" @click="goBack(one)">Go back</button>
        <button class="chip" :aria-label="`Drop ${one.name}`" @click="drop(one)">×</button>
      </div>
      <p v-if="!isNow(one)" class="soft small" data-test="version-differs">{{ differs(one) }}</p>
      <div class="row">
        <span class="label">How it was</span>
        <select
          class="ruled"
          aria-label="How it was"
          data-test="version-how"
          :value="one.answer ?? ''"
          @change="
            set(
              one,
              { answer: (($event.target as HTMLSelectElement).value || null) as Try['answer'] },
              'How it was',
            )
          "
        >
          <option value="">not tried yet</option>
          <option v-for="(words, key) in ANSWERS" :key="key" :value="key">{{ words }}</option>
        </select>
      </div>
      <div class="row">
        <span class="label">Note</span>
        <RuledText
          :model-value="one.note ?? ''"
          label="Note on the version"
          placeholder="what was noticed"
          data-test="version-note"
          @update:model-value="set(one, { note: $event }, 'Note')"
        />
      </div>
      <p v-if="printed?.tries[one.id]?.length" class="small" data-test="version-printed">
        {{ came(printed.tries[one.id]) }}
      </p>
    </div>
    <div class="chips">
      <button class="chip" :disabled="kept" data-test="keep-version" @click="keep">
        Keep it as a version
      </button>
    </div>
  </div>
</template>

<style scoped>
.versions {
  border-left: 3px solid var(--line);
  padding-left: 10px;
  margin-top: 8px;
}
.try {
  margin-bottom: 10px;
}
.head .chip,
.head .good {
  white-space: nowrap;
}
.head {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.small {
  font-size: 12px;
  margin: 4px 0 6px;
}
</style>
