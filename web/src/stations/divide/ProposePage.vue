<script setup lang="ts">
/** Proposals: what is wished, and three divisions as cards with a picture and figures. */
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { api, got, type Printer, type RevisionView, type Schemas } from '@/api/client'
import { run } from '@/api/operations'
import { useDividing } from '@/stores/dividing'
import { useSelection } from '@/stores/selection'
import { useProject } from '@/stores/project'
import RuledNumber from '@/ui/RuledNumber.vue'
import { pictureOf } from '@/view3d/picture'
import { pigment } from '@/api/format'
import FigureList from './FigureList.vue'
import { PREFER } from './preferences'

type Proposal = Schemas['ProposalView']
type Wishes = Schemas['Wishes']
const project = useProject()
const selection = useSelection()
const dividing = useDividing()
const wishes = reactive<{ piece: string; prefer: Wishes['prefer']; most: number | null }>({
  piece: '',
  prefer: 'fewest',
  most: null,
})
const used = ref<string[]>([])
const printers = computed<Printer[]>(() =>
  [project.printer, ...(project.plan?.more_printers ?? [])].flatMap((p) => (p ? [p] : [])),
)
watch(printers, (now) => (used.value = now.slice(0, 1).map((p) => p.id ?? '')), { immediate: true })
const found = shallowRef<Schemas['ProposalsView'] | null>(null)
const asked = shallowRef<Wishes | null>(null)
const pictures = shallowRef<string[]>([])
const busy = ref(false)
const over = computed(() => project.pieces.filter((p) => !p.fits))
const cannot = computed(() => busy.value || project.build?.state !== 'whole')

async function propose(): Promise<void> {
  const now = project.revision
  if (!now) return
  busy.value = true
  found.value = null
  const body = {
    piece: wishes.piece || null,
    printers: used.value,
    most_pieces: wishes.most,
    prefer: wishes.prefer,
    kept_mm: 0,
  } as Wishes
  try {
    const proposals = await run('propose', now.project_id, body)
    asked.value = body
    pictures.value = []
    found.value = proposals
    for (const one of proposals.proposals)
      pictures.value = [
        ...pictures.value,
        await pictureOf(
          Object.entries(one.meshes ?? {}).map(([key, mesh]) => ({
            mesh,
            colour: pigment(one.numbers[key] ?? 1),
          })),
        ),
      ]
  } catch (error) {
    await project.refused(error)
  } finally {
    busy.value = false
  }
}

/** Take a proposal; one that was worked out on a thinned copy is proved on the model first. */
async function take(proposal: Proposal): Promise<void> {
  const now = project.revision
  if (!now || !asked.value) return
  busy.value = true
  try {
    const params = { path: { project_id: now.project_id } }
    const whole = { wishes: asked.value, proposal }
    const sure = proposal.proved ? proposal : await run('prove', now.project_id, whole)
    const body = { base_revision: project.revision!.revision, wishes: asked.value, proposal: sure }
    const taken = await api.POST('/api/projects/{project_id}/take', { params, body: body as never })
    project.took(got<RevisionView>(taken))
    selection.parting = sure.partings[0]?.id ?? null
    dividing.page = 'partings'
  } catch (error) {
    await project.refused(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="block">
    <div class="row">
      <span class="label">Divide</span>
      <select v-model="wishes.piece" class="ruled" aria-label="What to divide" data-test="propose-piece">
        <option value="">the whole model, anew</option>
        <option v-for="p in over" :key="p.key" :value="p.key">piece {{ p.number }} only</option>
      </select>
    </div>
    <div class="row">
      <span class="label">Prefer</span>
      <select v-model="wishes.prefer" class="ruled" aria-label="Prefer" data-test="propose-prefer">
        <option v-for="p in PREFER" :key="p.prefer" :value="p.prefer">{{ p.name }}</option>
      </select>
    </div>
    <div class="row">
      <span class="label">At most</span>
      <RuledNumber
        v-model="wishes.most"
        label="Greatest number of pieces wished"
        unit="pieces"
        :digits="0"
        :min="1"
        :max="600"
        empty
        data-test="propose-most"
      />
    </div>
    <div v-if="printers.length > 1" class="row">
      <span class="label">Printers</span>
      <span class="chips">
        <label v-for="p in printers" :key="p.id">
          <input v-model="used" type="checkbox" :value="p.id" /> {{ p.name }}
        </label>
      </span>
    </div>
    <button class="wide" :disabled="cannot || used.length === 0" data-test="propose" @click="propose">
      {{ busy ? 'Working it out …' : 'Propose a division' }}
    </button>
  </div>
  <template v-if="found">
    <div v-for="(remark, k) in found.remarks" :key="k" class="block soft remark">{{ remark }}</div>
    <article v-for="(one, k) in found.proposals" :key="one.title" class="block card" data-test="proposal">
      <h2>
        {{ one.title }} <small>{{ one.says }}</small>
      </h2>
      <div class="both">
        <img v-if="pictures[k]" :src="pictures[k]" :alt="`The pieces of “${one.title}”`" />
        <span v-else class="blank"></span>
        <FigureList :figures="one.figures" />
      </div>
      <p
        v-if="one.with_joints !== null"
        class="small"
        :class="{ look: one.with_joints }"
        data-test="with-joints"
      >
        With joints: {{ one.with_joints || 'all fits and goes together.' }}
      </p>
      <button class="wide" :disabled="busy" data-test="take" @click="take(one)">
        Take it<span v-if="!one.proved" class="soft"> (it is proved on the model first)</span>
      </button>
    </article>
  </template>
</template>

<style scoped>
.row :deep(.ruled-number) {
  width: 110px;
}
.wide {
  margin-top: 8px;
}
.remark,
.small {
  font-size: 12.5px;
}
.small {
  margin: 8px 0 0;
}
.card h2 {
  flex-wrap: wrap;
  gap: 0 8px;
}
.both {
  display: grid;
  grid-template-columns: 132px 1fr;
  gap: 10px;
  align-items: start;
}
.both img,
.blank {
  width: 132px;
  height: 132px;
  background: var(--view);
  border: 1px solid var(--line);
}
label {
  white-space: nowrap;
}
</style>
