<script setup lang="ts">
/** A backup of everything, saved and taken back; and what was here before the last restore, as long as it is kept. */
import { onMounted, ref, shallowRef, useTemplateRef } from 'vue'
import { api, got, sent, type Schemas } from '@/api/client'
import { useProject } from '@/stores/project'
import { dateLanguage } from '@/words/language'

defineProps<{ count: number }>()
const emit = defineEmits<{ busy: [words: string]; restored: [] }>()
const project = useProject()
const file = useTemplateRef<HTMLInputElement>('file')
const restoring = shallowRef<File | null>(null)
const before = shallowRef<Schemas['Before'] | null>(null)
const asking = ref(false)

async function look(): Promise<void> {
  before.value = got<Schemas['Before'] | null>(await api.GET('/api/restore'))
}
/** Do something to everything that is kept, and say what went wrong if it did. */
async function act(words: string, what: () => Promise<string>): Promise<void> {
  asking.value = false
  restoring.value = null
  emit('busy', words)
  try {
    project.say(await what())
    await look()
  } catch (error) {
    await project.refused(error)
  }
  emit('busy', '')
  emit('restored')
}
const moment = (iso: string) =>
  new Date(iso).toLocaleString(dateLanguage(), { dateStyle: 'long', timeStyle: 'short' })
const size = (bytes: number) => `${Math.max(1, Math.round(bytes / 1e6))} MB`
const told = (many: number) => `Restored: ${many} ${many === 1 ? 'project' : 'projects'}.`
function restore(): void {
  const chosen = restoring.value!
  void act(`Restoring ${chosen.name} …`, async () =>
    told((await sent<Schemas['Restored']>('/api/restore', chosen)).projects),
  )
}
const takeBack = () =>
  act('Taking back what was here …', async () =>
    told(got<Schemas['Restored']>(await api.POST('/api/restore/back')).projects),
  )
const letGo = () =>
  act('Letting go of what was here …', async () => {
    const answer = await api.DELETE('/api/restore')
    if (!answer.response.ok) got(answer)
    return 'What was here before the restore is gone.'
  })

onMounted(() => look().catch((error: unknown) => project.refused(error)))
</script>

<template>
  <a class="chip" href="/api/backup" download data-test="save-backup">Save a backup</a>
  <button class="chip" data-test="restore" @click="file?.click()">Restore a backup</button>
  <button v-if="before" class="chip" data-test="before-restore" @click="asking = true">
    Before the restore …
  </button>
  <input
    ref="file"
    type="file"
    accept=".sqlite"
    hidden
    data-test="backup-file"
    @change="((restoring = file?.files?.[0] ?? null), (file!.value = ''))"
  />
  <v-dialog :model-value="restoring !== null" max-width="460" @update:model-value="restoring = null">
    <div class="dialog">
      <h2>Restore “{{ restoring?.name }}”?</h2>
      <p>
        Everything that is here now, all {{ count }} projects with their logs and the workshop, is replaced by
        what the backup holds. It is kept aside, and can be taken back.
      </p>
      <p v-if="before">What was kept aside at the restore before goes.</p>
      <div class="actions">
        <v-btn variant="text" @click="restoring = null">Leave it</v-btn>
        <v-btn color="error" data-test="restore-it" @click="restore">Restore</v-btn>
      </div>
    </div>
  </v-dialog>
  <v-dialog v-model="asking" max-width="460">
    <div v-if="before" class="dialog">
      <h2>What was here before the restore</h2>
      <p data-test="before-words">
        {{ before.projects }} {{ before.projects === 1 ? 'project' : 'projects' }}, {{ size(before.bytes) }},
        put aside on {{ moment(before.at) }}. Taking it back puts what is here now aside in its place.
      </p>
      <div class="actions">
        <v-btn variant="text" @click="asking = false">Leave it</v-btn>
        <v-btn color="error" variant="text" data-test="let-go" @click="letGo">Let it go</v-btn>
        <v-btn color="primary" data-test="take-back" @click="takeBack">Take it back</v-btn>
      </div>
    </div>
  </v-dialog>
</template>
