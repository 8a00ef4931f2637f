<script setup lang="ts">
/** Parts: which there are, how often each stands, what is added or taken apart; where the open one stands; the play. */
import { computed, ref, shallowRef, useTemplateRef } from 'vue'
import { size } from '@/api/format'
import { uploadModel, type Upload } from '@/api/upload'
import { useParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import FindingList from '@/ui/FindingList.vue'
import KindMenu from '@/ui/KindMenu.vue'
import RuledText from '@/ui/RuledText.vue'
import { ACCEPTED } from './formats'
import MadeBlock from './MadeBlock.vue'
import MakeBlock from './MakeBlock.vue'
import { makerGroups } from './makers'
import PartPlaces from './PartPlaces.vue'
import PlayBlock from './PlayBlock.vue'

const project = useProject()
const parts = useParts()
const picker = useTemplateRef<HTMLInputElement>('picker')
const sending = shallowRef<{ upload: Upload; name: string } | null>(null)
const busy = ref(false)
const told = ref('')
/** the kind of part that is being made */
const making = ref<string | null>(null)
const model = computed(() => project.build?.model ?? null)
/** bodies of the open part that do not hang together */
const bodies = computed(() => Math.max(model.value?.objects?.length ?? 0, model.value?.lumps ?? 0))
const divided = computed(() => {
  const plan = project.plan
  return [plan?.partings, plan?.joints, plan?.marks, plan?.ways].some((list) => list?.length)
})

async function add(list: FileList | null | undefined): Promise<void> {
  for (const file of list ?? []) {
    const now = project.revision
    if (!now || sending.value) return
    const upload = uploadModel(now.project_id, file, now.revision, () => undefined, 'part')
    sending.value = { upload, name: file.name }
    try {
      project.took(await upload.done)
    } catch (error) {
      await project.refused(error)
    } finally {
      sending.value = null
    }
  }
  if (picker.value) picker.value.value = ''
}

function make(kind: string): void {
  told.value = ''
  making.value = kind
}
function made(said: string): void {
  making.value = null
  told.value = said
}
async function takeApart(): Promise<void> {
  busy.value = true
  told.value = ''
  const found = await project.command('take-apart', { copies_as_one: true })
  busy.value = false
  if (found) told.value = `It is ${found.said} now; everything stays where it was.`
}
const problems = (p: { must_fix?: number; look_at?: number }): string =>
  [p.must_fix && `${p.must_fix} must be fixed`, p.look_at && `${p.look_at} to look at`]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <div class="block">
    <h2>
      Parts
      <small v-if="parts.parts.length">
        {{ parts.parts.length }}{{ parts.standing > parts.parts.length ? `, ${parts.standing} in all` : '' }}
      </small>
    </h2>
    <p v-if="!model && !parts.parts.length" class="soft">
      A project holds one part or many: a body and its pods, a box and its lid. Bring in the first at “What it
      is”.
    </p>
    <ul v-else class="list" aria-label="Parts">
      <li
        v-for="p in parts.parts"
        :key="p.id"
        :class="{ on: p.open }"
        data-test="part"
        @click="parts.work(p.id)"
      >
        <RuledText
          v-if="p.open"
          class="grow"
          maxlength="80"
          label="Name of the part"
          data-test="part-name"
          :model-value="p.name"
          @click.stop
          @update:model-value="parts.rename"
        />
        <button v-else class="plain grow" :aria-label="`Work on ${p.name}`" data-test="open-part">
          {{ p.name }}
          <small v-if="problems(p)" :class="p.must_fix ? 'bad' : 'look'">{{ problems(p) }}</small>
        </button>
        <span class="end" data-test="part-count">{{ p.count > 1 ? `× ${p.count}` : '' }}</span>
        <span class="end">{{ p.open ? 'worked on' : size(p.size_mm) }}</span>
        <button
          v-if="!p.open && p.id !== 'q1'"
          class="plain"
          :aria-label="`Take out ${p.name}`"
          data-test="drop-part"
          @click.stop="parts.drop(p)"
        >
          ×
        </button>
      </li>
    </ul>
    <div v-if="model" class="chips more">
      <button class="chip" data-test="add-part" :disabled="!!sending" @click="picker?.click()">
        {{ sending ? `Reading ${sending.name}` : 'Add a part' }}
      </button>
      <KindMenu label="Make one" :groups="makerGroups()" test="make-part" item="make" @take="make" />
      <button
        v-if="bodies > 1"
        class="chip"
        data-test="take-apart"
        :disabled="busy || divided"
        :title="divided ? 'It is divided already; take it apart before.' : undefined"
        @click="takeApart"
      >
        Take {{ bodies }} bodies apart
      </button>
      <input
        ref="picker"
        type="file"
        :accept="ACCEPTED"
        multiple
        hidden
        data-test="part-file"
        @change="add(picker?.files)"
      />
    </div>
    <p v-if="told" class="good small" aria-live="polite" data-test="parts-told">{{ told }}</p>
    <p v-if="parts.parts.length > 1" class="soft small">
      All stations show the part that is worked on. Beds, lists, exports and the log are of all parts, each as
      often as it stands.
    </p>
  </div>
  <div v-if="parts.findings.length" class="block"><FindingList :findings="parts.findings" /></div>
  <MakeBlock v-if="making" :key="making" :kind="making" @done="made" @leave="making = null" />
  <MadeBlock v-else-if="project.plan?.made" />
  <PartPlaces v-if="parts.open && model" />
  <PlayBlock v-if="parts.standing > 1" />
</template>

<style scoped>
.more {
  margin-top: 8px;
}
.small {
  font-size: 12px;
  margin: 8px 0 0;
}
.list > li small {
  font-size: 11.5px;
}
</style>
