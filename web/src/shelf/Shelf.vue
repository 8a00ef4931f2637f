<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { api, got, type ProjectView, type RevisionView } from '@/api/client'
import { useProject } from '@/stores/project'

const router = useRouter()
const project = useProject()
const shelf = shallowRef<ProjectView[]>([])
const loaded = ref(false)
const naming = ref(false)
const name = ref('')
const leaving = shallowRef<ProjectView | null>(null)

async function load(): Promise<void> {
  try {
    shelf.value = got<ProjectView[]>(await api.GET('/api/projects'))
  } catch (error) {
    await project.refused(error)
  }
  loaded.value = true
}

async function begin(): Promise<void> {
  try {
    const made = got<RevisionView>(
      await api.POST('/api/projects', { body: { name: name.value.trim() || 'Untitled' } }),
    )
    await router.push(`/projects/${made.project_id}/model`)
  } catch (error) {
    await project.refused(error)
  }
}

async function remove(): Promise<void> {
  const gone = leaving.value
  leaving.value = null
  if (!gone) return
  await api.DELETE('/api/projects/{project_id}', { params: { path: { project_id: gone.id } } })
  await load()
}

const day = (iso: string): string =>
  new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric' })
const first = (p: ProjectView): string => (p.model_name ? 'divide' : 'model')

onMounted(load)
</script>

<template>
  <main class="shelf">
    <header>
      <span class="mark">Hinoki</span>
      <span class="soft">Divide models larger than the printer, join the sections, put them together.</span>
      <span class="gap"></span>
      <router-link class="chip" to="/workshop" data-test="to-workshop">Workshop</router-link>
    </header>
    <h1>Projects</h1>
    <ul>
      <li v-for="p in shelf" :key="p.id" data-test="project">
        <router-link :to="`/projects/${p.id}/${first(p)}`" class="card">
          <strong>{{ p.name }}</strong>
          <span>{{ p.model_name ?? 'no model yet' }}</span>
          <dl>
            <div>
              <dt>Partings</dt>
              <dd>{{ p.partings }}</dd>
            </div>
            <div>
              <dt>Joints</dt>
              <dd>{{ p.joints }}</dd>
            </div>
            <div>
              <dt>Printer</dt>
              <dd>{{ p.printer }}</dd>
            </div>
            <div>
              <dt>Revision</dt>
              <dd>{{ p.revision }}</dd>
            </div>
          </dl>
          <span class="soft">changed {{ day(p.updated_at) }}</span>
        </router-link>
        <button class="plain delete" :aria-label="`Delete ${p.name}`" @click="leaving = p">Delete</button>
      </li>
      <li v-if="loaded">
        <button class="card new" data-test="new-project" @click="naming = true">
          <strong>New project</strong>
          <span>Bring in a model of your own</span>
        </button>
      </li>
    </ul>
    <v-dialog v-model="naming" max-width="420">
      <form class="dialog" @submit.prevent="begin">
        <h2>New project</h2>
        <v-text-field v-model="name" label="Name" autofocus maxlength="80" data-test="project-name" />
        <div class="actions">
          <v-btn variant="text" @click="naming = false">Leave it</v-btn>
          <v-btn color="primary" type="submit" data-test="project-begin">Begin</v-btn>
        </div>
      </form>
    </v-dialog>
    <v-dialog :model-value="leaving !== null" max-width="420" @update:model-value="leaving = null">
      <div class="dialog">
        <h2>Delete “{{ leaving?.name }}”?</h2>
        <p>All its revisions go with it. This cannot be undone.</p>
        <div class="actions">
          <v-btn variant="text" @click="leaving = null">Keep it</v-btn>
          <v-btn color="error" @click="remove">Delete</v-btn>
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
header {
  display: flex;
  gap: 20px;
  align-items: baseline;
  padding: 22px 0;
  border-bottom: 1px solid var(--line-strong);
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
  margin: 28px 0 16px;
}
ul {
  list-style: none;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: 20px;
}
li {
  position: relative;
}
.card {
  display: flex;
  flex-direction: column;
  gap: 6px;
  width: 100%;
  min-height: 178px;
  text-align: left;
  text-decoration: none;
  color: inherit;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-top: 8px solid var(--rule-dark);
  padding: 14px 16px;
  cursor: pointer;
}
.card:hover {
  border-color: var(--cedar);
}
.card strong {
  font-size: 15px;
}
.new {
  border-style: dashed;
  border-top-style: solid;
  border-top-color: var(--line);
  justify-content: center;
  align-items: center;
}
dl {
  display: grid;
  grid-template-columns: repeat(4, auto);
  margin: 8px 0 auto;
  border-top: 1px solid var(--line);
  padding-top: 8px;
}
dt {
  font-size: 11px;
  color: var(--ink-soft);
}
dd {
  margin: 0;
}
.delete {
  position: absolute;
  right: 14px;
  bottom: 12px;
  color: var(--ink-soft);
  font-size: 12px;
}
.delete:hover {
  color: var(--vermilion);
}
.dialog {
  background: var(--sheet);
  padding: 20px;
}
.actions {
  display: flex;
  justify-content: flex-end;
  gap: 8px;
}
</style>
