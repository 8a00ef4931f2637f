<script setup lang="ts">
/** The shelf: all projects, found, sorted, begun, copied, put away, taken in and out; and a backup of everything. */
import { useTimeoutPoll } from '@vueuse/core'
import { computed, onMounted, ref, shallowRef, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import { api, got, sent, type ProjectView, type RevisionView } from '@/api/client'
import { useGuide } from '@/stores/guide'
import { useProject } from '@/stores/project'
import Backups from './Backups.vue'
import LightSwitch from '@/ui/LightSwitch.vue'
import { holds } from '@/ui/search'
import ProjectCard from './ProjectCard.vue'
import { useTypedNames } from '@/words/typedNames'

type Order = 'changed' | 'name' | 'begun' | 'progress'
const ORDERS: Record<Order, string> = {
  changed: 'changed last',
  name: 'by name',
  begun: 'begun last',
  progress: 'least printed',
}
const GUIDED = 'tern-holm-lighthouse.stl'
const router = useRouter()
const project = useProject()
const guide = useGuide()
const shelf = shallowRef<ProjectView[]>([])
useTypedNames(() => shelf.value)
const loaded = ref(false)
const naming = ref(false)
const name = ref('')
const copying = shallowRef<ProjectView | null>(null)
const leaving = shallowRef<ProjectView | null>(null)
const busy = ref('')
const search = ref('')
const order = ref<Order>('changed')
const away = ref(false)
const archive = useTemplateRef<HTMLInputElement>('archive')

async function load(): Promise<void> {
  try {
    shelf.value = got<ProjectView[]>(await api.GET('/api/projects'))
  } catch (error) {
    await project.refused(error)
  }
  loaded.value = true
}

/** the demo project that the guide leads through */
const guided = computed(() => shelf.value.find((p) => p.model_name === GUIDED))
const put = computed(() => shelf.value.filter((p) => p.away).length)
const shown = computed(() => {
  const found = shelf.value.filter(
    (p) => p.away === away.value && holds([p.name, p.model_name ?? '', p.printer], search.value),
  )
  const share = (p: ProjectView) => (p.pieces ? p.printed / p.pieces : 0)
  const by: Record<Order, (a: ProjectView, b: ProjectView) => number> = {
    changed: (a, b) => b.updated_at.localeCompare(a.updated_at),
    name: (a, b) => a.name.localeCompare(b.name),
    begun: (a, b) => b.created_at.localeCompare(a.created_at),
    progress: (a, b) => share(a) - share(b),
  }
  return [...found].sort(by[order.value])
})

/** Do something, say what went wrong if it did, and see what is on the shelf then. */
async function act(what: () => Promise<void>): Promise<void> {
  try {
    await what()
  } catch (error) {
    await project.refused(error)
  } finally {
    busy.value = ''
  }
  await load()
}
const begin = () =>
  act(async () => {
    const body = { name: name.value.trim() || 'Untitled' }
    const made = got<RevisionView>(await api.POST('/api/projects', { body }))
    await router.push(`/projects/${made.project_id}/model`)
  })
const copy = () =>
  act(async () => {
    const from = copying.value!
    copying.value = null
    const params = { path: { project_id: from.id } }
    const body = { name: name.value.trim() || `${from.name}, copy` }
    got<RevisionView>(await api.POST('/api/projects/{project_id}/copy', { params, body }))
  })
const putAway = (p: ProjectView) =>
  act(async () => {
    const params = { path: { project_id: p.id } }
    const answer = await api.PUT('/api/projects/{project_id}/away', { params, body: { away: !p.away } })
    if (!answer.response.ok) got(answer)
  })
const remove = () =>
  act(async () => {
    const gone = leaving.value!
    leaving.value = null
    const answer = await api.DELETE('/api/projects/{project_id}', {
      params: { path: { project_id: gone.id } },
    })
    if (!answer.response.ok) got(answer)
  })

const takeIn = () =>
  act(async () => {
    const file = archive.value?.files?.[0]
    if (!file) return
    busy.value = `Taking in ${file.name} …`
    const made = await sent<RevisionView>('/api/archives', file)
    project.say(`Took in “${made.name}” with all its revisions and its print log.`)
    archive.value!.value = ''
  })

/** demo projects that are still to come; the shelf is looked at anew as each arrives */
const making = shallowRef<string[]>([])
const coming = useTimeoutPoll(look, 1500)
async function look(): Promise<void> {
  try {
    const { names } = got<{ names: string[] }>(await api.GET('/api/shelf/making'))
    if (names.length !== making.value.length) await load()
    making.value = names
    if (!names.length) coming.pause()
  } catch (error) {
    coming.pause()
    await project.refused(error)
  }
}
onMounted(async () => {
  await load()
  coming.resume()
})
</script>

<template>
  <main class="shelf">
    <header>
      <span class="mark" translate="no">Hinoki</span>
      <span class="soft">Divide models larger than the printer, join the sections, put them together.</span>
      <span class="gap"></span>
      <LightSwitch />
      <router-link class="chip" to="/workshop" data-test="to-workshop">Workshop</router-link>
    </header>
    <div class="tools">
      <h1>Projects</h1>
      <input
        v-model="search"
        class="ruled search"
        type="search"
        placeholder="search by name, model or printer"
        aria-label="Search"
        data-test="search"
      />
      <select v-model="order" class="ruled order" aria-label="Order" data-test="order">
        <option v-for="(words, key) in ORDERS" :key="key" :value="key">{{ words }}</option>
      </select>
      <button
        v-if="put || away"
        class="chip"
        :aria-pressed="away"
        data-test="show-away"
        @click="away = !away"
      >
        Put away ({{ put }})
      </button>
      <span class="gap"></span>
      <button class="chip" data-test="take-archive" @click="archive?.click()">Take a project in</button>
      <Backups :count="shelf.length" @busy="(words) => (busy = words)" @restored="load" />
      <input ref="archive" type="file" accept=".zip" hidden data-test="archive-file" @change="takeIn" />
    </div>
    <p v-if="busy" role="status">{{ busy }}</p>
    <p v-if="!loaded" class="soft" aria-live="polite">Reading what is on the shelf …</p>
    <p v-if="making.length" class="soft" aria-live="polite" data-test="making">
      Making the demo projects: {{ making[0] }} …{{
        making.length > 1 ? ` ${making.length - 1} more after it.` : ''
      }}
    </p>
    <p v-if="guided && !search && !away" class="soft round">
      New here?
      <router-link :to="`/projects/${guided.id}/model`" data-test="show-me-round" @click="guide.begin()">
        {{
          guide.begun ? `Go on with hint ${guide.at + 1} of the guide` : 'Be shown round the lighthouse'
        }}</router-link>: {{ guide.hints.length }} short hints.
    </p>
    <ul>
      <li v-if="loaded && !away && !search">
        <button class="new" data-test="new-project" @click="((naming = true), (name = ''))">
          <strong>New project</strong>
          <span>Bring in a model of your own</span>
        </button>
      </li>
      <li v-for="p in shown" :key="p.id" data-test="project">
        <ProjectCard
          :project="p"
          @copy="((copying = p), (name = `${p.name}, copy`))"
          @away="putAway(p)"
          @remove="leaving = p"
        />
      </li>
    </ul>
    <p v-if="loaded && !shown.length && (search || away)" class="soft">Nothing on the shelf matches.</p>
    <v-dialog
      :model-value="naming || copying !== null"
      max-width="420"
      @update:model-value="((naming = false), (copying = null))"
    >
      <form class="dialog" @submit.prevent="copying ? copy() : begin()">
        <h2>{{ copying ? `Copy “${copying.name}”` : 'New project' }}</h2>
        <p v-if="copying" class="soft">With all its revisions; its print log begins empty.</p>
        <v-text-field v-model="name" label="Name" autofocus maxlength="80" data-test="project-name" />
        <div class="actions">
          <v-btn variant="text" @click="((naming = false), (copying = null))">Leave it</v-btn>
          <v-btn color="primary" type="submit" data-test="project-begin">{{
            copying ? 'Copy' : 'Begin'
          }}</v-btn>
        </div>
      </form>
    </v-dialog>
    <v-dialog :model-value="leaving !== null" max-width="420" @update:model-value="leaving = null">
      <div class="dialog">
        <h2>Delete “{{ leaving?.name }}”?</h2>
        <p>
          All its revisions and its print log go with it. This cannot be undone; putting it away, or saving it
          first, can.
        </p>
        <div class="actions">
          <v-btn variant="text" @click="leaving = null">Keep it</v-btn>
          <v-btn color="error" data-test="delete-it" @click="remove">Delete</v-btn>
        </div>
      </div>
    </v-dialog>
  </main>
</template>

<style scoped>
.shelf {
  height: 100vh;
  overflow: auto;
  padding: 0 64px 64px;
  background: var(--paper);
}
header,
.tools {
  display: flex;
  gap: 20px;
  align-items: baseline;
}
header {
  padding: 22px 0;
  border-bottom: 1px solid var(--line-strong);
}
.tools {
  flex-wrap: wrap;
  gap: 8px 12px;
  margin: 20px 0 16px;
}
.gap {
  flex: 1;
}
.mark {
  font-family: 'Shippori Mincho', serif;
  font-size: 30px;
  font-weight: 600;
  color: var(--cedar);
}
h1 {
  font-size: 18px;
  font-weight: 600;
  margin: 0 8px 0 0;
}
.search {
  width: 250px;
}
.order {
  width: 130px;
}
ul {
  list-style: none;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(270px, 1fr));
  gap: 20px;
}
@media (max-width: 720px) {
  .shelf {
    padding: 0 14px 40px;
  }
  header {
    gap: 10px;
    padding: 12px 0;
    align-items: center;
  }
  header .soft {
    display: none;
  }
  .search,
  .order {
    width: 100%;
  }
}
.round a {
  color: var(--cedar);
}
.new {
  display: flex;
  flex-direction: column;
  gap: 6px;
  width: 100%;
  height: 100%;
  min-height: 120px;
  background: var(--sheet);
  border: 1px dashed var(--line-strong);
  border-top: 8px solid var(--line);
  justify-content: center;
  align-items: center;
  cursor: pointer;
}
.new:hover {
  border-color: var(--cedar);
}
</style>
