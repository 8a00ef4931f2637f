<script setup lang="ts">
/** The plan's revisions: named, compared two by two, and gone back to. */
import { computed, ref, shallowRef, watch } from 'vue'
import { api, got, type Plan, type Schemas } from '@/api/client'
import { useProject } from '@/stores/project'
import { dateLanguage } from '@/words/language'

const project = useProject()
const lines = shallowRef<Schemas['HistoryLine'][]>([])
const chosen = ref<number | null>(null)
const naming = ref(false)
const name = ref('')
const comparison = shallowRef<Schemas['PlanComparison'] | null>(null)
const id = computed(() => project.revision?.project_id ?? '')

async function load(): Promise<void> {
  if (!id.value) return
  try {
    const params = { path: { project_id: id.value } }
    lines.value = got<Schemas['HistoryLine'][]>(
      await api.GET('/api/projects/{project_id}/history', { params }),
    )
  } catch (error) {
    await project.refused(error)
  }
}
watch(
  () => project.revision?.revision,
  () => {
    comparison.value = null
    void load()
  },
  { immediate: true },
)
function choose(number: number): void {
  chosen.value = chosen.value === number ? null : number
  naming.value = false
  comparison.value = null
  name.value = lines.value.find((l) => l.number === number)?.name ?? ''
}
async function keepName(): Promise<void> {
  const params = { path: { project_id: id.value, number: chosen.value! } }
  try {
    const body = { name: name.value }
    const answer = await api.PUT('/api/projects/{project_id}/revisions/{number}/name', { params, body })
    if (!answer.response.ok) got(answer)
    naming.value = false
  } catch (error) {
    await project.refused(error)
  }
  await load()
}
async function compare(): Promise<void> {
  const query = { before: chosen.value!, after: project.revision!.revision }
  try {
    const params = { path: { project_id: id.value }, query }
    comparison.value = got<Schemas['PlanComparison']>(
      await api.GET('/api/projects/{project_id}/compare', { params }),
    )
  } catch (error) {
    await project.refused(error)
  }
}
/** Go back as an edit: printed pieces are heeded, and it can be undone. */
async function goBack(): Promise<void> {
  const number = chosen.value!
  try {
    const params = { path: { project_id: id.value, number } }
    const then = got<Plan>(await api.GET('/api/projects/{project_id}/revisions/{number}/plan', { params }))
    const label = lines.value.find((l) => l.number === number)?.label ?? ''
    await project.edit(`Back to revision ${number}: ${label}`.slice(0, 120), (plan) =>
      Object.assign(plan, then),
    )
  } catch (error) {
    await project.refused(error)
  }
}
const time = (iso: string) =>
  new Date(iso).toLocaleString(dateLanguage(), {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  })
</script>

<template>
  <div class="block">
    <h2>Revisions <small>of the plan</small></h2>
    <ul class="list" data-test="revisions">
      <template v-for="line in lines" :key="line.number">
        <li
          :class="{ on: line.number === project.revision?.revision }"
          tabindex="0"
          data-test="revision-line"
          @click="choose(line.number)"
          @keydown.enter.self="choose(line.number)"
        >
          <span class="tag">{{ line.number }}</span>
          <span class="grow"
            ><b v-if="line.name">{{ line.name }}: </b>{{ line.label }}</span
          >
          <span class="end">{{ time(line.created_at) }}</span>
        </li>
        <li v-if="line.number === chosen" class="inside">
          <form v-if="naming" class="naming" @submit.prevent="keepName">
            <input
              v-model="name"
              class="ruled"
              maxlength="60"
              placeholder="such as “as printed for the fair”"
              aria-label="Name of the revision"
              data-test="revision-name"
            />
            <button class="chip" data-test="keep-name">Keep</button>
          </form>
          <div v-else class="chips">
            <button class="chip" data-test="name-revision" @click="naming = true">
              {{ line.name ? 'Another name' : 'Name it' }}
            </button>
            <template v-if="line.number !== project.revision?.revision">
              <button class="chip" data-test="compare-revision" @click="compare">What changed since?</button>
              <button class="chip" data-test="go-back" @click="goBack">Go back to it</button>
            </template>
          </div>
          <div v-if="comparison" data-test="comparison">
            <p v-for="(c, k) in comparison.changes" :key="k" class="small">
              <span class="soft">{{ c.what }}</span> <b>{{ c.name }}</b> {{ c.how
              }}<template v-if="c.told">: {{ c.told }}</template>
            </p>
            <p v-if="!comparison.changes.length" class="soft small">Nothing changed.</p>
            <template v-if="comparison.pieces">
              <p v-for="p in comparison.pieces" :key="p.number" class="small">
                <span class="soft">piece</span> <b>{{ p.number }} {{ p.name }}</b> {{ p.how
                }}<template v-if="p.told">: {{ p.told }}</template>
              </p>
              <p v-if="!comparison.pieces.length" class="good small">All pieces are the same.</p>
            </template>
            <p v-else class="soft small">
              What became of the pieces is known once that revision has been looked at (go back to it, then
              undo).
            </p>
          </div>
        </li>
      </template>
    </ul>
    <p>
      <a class="chip" :href="`/api/projects/${id}/plan.json`" download="plan.json">Save the plan</a>
      <a class="chip" :href="`/api/projects/${id}/archive`" download data-test="save-archive"
        >Save the whole project</a
      >
    </p>
  </div>
</template>

<style scoped>
.list > li.inside {
  display: block;
  cursor: default;
  background: var(--paper);
}
.inside p {
  margin: 4px 0;
}
.naming {
  display: flex;
  gap: 6px;
}
p > .chip {
  margin-right: 6px;
}
.block > p {
  margin-top: 12px;
}
</style>
