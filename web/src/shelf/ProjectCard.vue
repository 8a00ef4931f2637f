<script setup lang="ts">
/** One project on the shelf: its picture, facts, how far it is printed, and what can be done with it. */
import { computed, onBeforeUnmount, onMounted, ref, useTemplateRef } from 'vue'
import type { JobView, ProjectView } from '@/api/client'
import { finished } from '@/api/jobs'
import ShareBar from '@/ui/ShareBar.vue'
import { dateLanguage } from '@/words/language'

const props = defineProps<{ project: ProjectView }>()
const emit = defineEmits<{ copy: []; away: []; remove: [] }>()
const card = useTemplateRef<HTMLElement>('card')
const picture = ref('')
const day = (iso: string): string =>
  new Date(iso).toLocaleDateString(dateLanguage(), { day: 'numeric', month: 'long', year: 'numeric' })
const first = computed(() => (props.project.model_name ? 'divide' : 'model'))
const facts = computed(() => [
  { name: 'Partings', text: props.project.partings },
  { name: 'Joints', text: props.project.joints },
  { name: 'Printer', text: props.project.printer },
  { name: 'Revision', text: props.project.revision },
])

/** The picture, drawn by the server when it is asked for first; a project that was never built has none. */
async function draw(): Promise<void> {
  const url = `/api/projects/${props.project.id}/picture`
  const answer = await fetch(`${url}?of=${props.project.revision}`)
  if (answer.status === 204 || !answer.ok) return
  try {
    if (answer.status === 202) await finished((await answer.json()) as JobView)
  } catch {
    return // a card without its picture is still a card
  }
  picture.value = `${url}?of=${props.project.revision}.1`
}
/** All of it in one file. */
function save(): void {
  const link = document.createElement('a')
  link.href = `/api/projects/${props.project.id}/archive`
  link.download = ''
  link.click()
}
// only what is seen is drawn: a long shelf asks for a screenful
const watcher = new IntersectionObserver((seen) => {
  if (!seen.some((s) => s.isIntersecting) || (!props.project.model_name && !props.project.pieces)) return
  watcher.disconnect()
  void draw()
})
onMounted(() => watcher.observe(card.value!))
onBeforeUnmount(() => watcher.disconnect())
</script>

<template>
  <article ref="card" class="card">
    <router-link :to="`/projects/${project.id}/${first}`" class="link">
      <span class="frame"><img v-if="picture" :src="picture" alt="" data-test="project-picture" /></span>
      <strong>{{ project.name }}</strong>
      <span>{{ project.model_name ?? 'no model yet' }}</span>
      <dl>
        <div v-for="f in facts" :key="f.name">
          <dt>{{ f.name }}</dt>
          <dd>{{ f.text }}</dd>
        </div>
      </dl>
      <span v-if="project.pieces" class="printed" data-test="project-progress">
        <ShareBar :done="project.printed" :all="project.pieces" />
        {{ project.printed }} of {{ project.pieces }} printed{{
          project.installed ? `, ${project.installed} finished` : ''
        }}
      </span>
      <span class="soft">changed {{ day(project.updated_at) }}</span>
    </router-link>
    <footer>
      <button class="plain" :aria-label="`Copy ${project.name}`" data-test="copy" @click="emit('copy')">
        Copy
      </button>
      <button class="plain" :aria-label="`Save all of ${project.name}`" data-test="archive" @click="save">
        Save
      </button>
      <button
        class="plain"
        :aria-label="`${project.away ? 'Put back' : 'Put away'} ${project.name}`"
        data-test="put-away"
        @click="emit('away')"
      >
        {{ project.away ? 'Put back' : 'Put away' }}
      </button>
      <button class="plain delete" :aria-label="`Delete ${project.name}`" @click="emit('remove')">
        Delete
      </button>
    </footer>
  </article>
</template>

<style scoped>
.card {
  display: flex;
  flex-direction: column;
  height: 100%;
  background: var(--sheet);
  border: 1px solid var(--line-strong);
  border-top: 8px solid var(--rule-dark);
}
.card:hover {
  border-color: var(--cedar);
}
.link {
  flex: 1;
  display: flex;
  flex-direction: column;
  gap: 5px;
  padding: 0 16px 8px;
  text-decoration: none;
  color: inherit;
}
.frame {
  height: 112px;
  margin: 0 -16px 6px;
  background: var(--picture);
  border-bottom: 1px solid var(--line);
  display: grid;
  place-items: center;
  overflow: hidden;
}
.frame img {
  height: 112px;
}
[data-light='night'] .frame {
  filter: brightness(0.82);
}
strong {
  font-size: 15px;
}
dl {
  display: grid;
  grid-template-columns: repeat(4, auto);
  margin: 6px 0 auto;
  border-top: 1px solid var(--line);
  padding-top: 6px;
}
dt {
  font-size: 11px;
  color: var(--ink-soft);
}
dd {
  margin: 0;
}
.printed {
  display: flex;
  align-items: center;
  gap: 8px;
}
footer {
  display: flex;
  gap: 14px;
  padding: 6px 16px 9px;
  border-top: 1px solid var(--line);
  font-size: 12px;
}
footer .plain {
  color: var(--ink-soft);
  font-size: 12px;
  text-decoration: none;
}
footer .plain:hover {
  color: var(--cedar);
}
footer .delete {
  margin-left: auto;
}
footer .delete:hover {
  color: var(--vermilion);
}
</style>
