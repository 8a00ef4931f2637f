<script setup lang="ts">
/** Pictures behind the model: brought in, scaled by two points, moved to where they belong. */
import { computed, ref, shallowRef, useTemplateRef } from 'vue'
import { sent, type Schemas } from '@/api/client'
import { useProject } from '@/stores/project'
import { useTools } from '@/stores/tools'
import { useViewport } from '@/stores/viewport'
import RuledNumber from '@/ui/RuledNumber.vue'
import SchemaForm from '@/ui/SchemaForm.vue'
import { planeOf, seenAt, type BackPicture } from '@/view3d/pictures'

const FIELDS = ['across_mm', 'right_mm', 'up_mm', 'away_mm', 'turn_deg', 'strength_percent']
const VIEWS = { front: 'the front', side: 'the side', top: 'above' } as const
const EYES = { front: [0, -1, 0], side: [1, 0, 0], top: [0, 0, 1] } as const
const project = useProject()
const tools = useTools()
const viewport = useViewport()
const picker = useTemplateRef<HTMLInputElement>('picker')
const busy = ref(false)
const chosenId = ref('')
const pictures = computed<BackPicture[]>(() => project.plan?.pictures ?? [])
const chosen = computed(
  () => pictures.value.find((p) => p.id === chosenId.value) ?? pictures.value[0] ?? null,
)
/** two points of the picture whose distance is asked for */
const measured = shallowRef<{ one: [number, number]; other: [number, number] } | null>(null)
const known = ref<number | null>(100)

/** A plane just behind the model, as it is seen from a view. */
function behind(view: NonNullable<BackPicture['view']>): Partial<BackPicture> {
  const low = project.build?.model?.low_mm ?? [-50, -50, 0]
  const high = project.build?.model?.high_mm ?? [50, 50, 100]
  const round = (v: number) => Math.round(v * 10) / 10
  const mid = [0, 1, 2].map((k) => round((low[k]! + high[k]!) / 2)) as [number, number, number]
  const [right, up] = seenAt({ view } as BackPicture, mid)
  const away = { front: high[1]! + 2, side: low[0]! - 2, top: low[2]! - 0.5 }[view]
  return { view, right_mm: right, up_mm: up, away_mm: round(away) }
}
async function bring(list: FileList | null): Promise<void> {
  const file = list?.[0]
  const id = project.revision?.project_id
  if (!file || !id) return
  busy.value = true
  try {
    const kept = await sent<Schemas['PictureKept']>(
      `/api/projects/${id}/pictures?file_name=${encodeURIComponent(file.name.slice(-200))}`,
      file,
    )
    const name = `b${Math.max(0, ...pictures.value.map((p) => Number(p.id.slice(1)))) + 1}`
    const size = project.build?.model?.size_mm ?? [100, 100, 100]
    const picture = {
      ...kept,
      id: name,
      file_name: file.name.slice(-200),
      across_mm: Math.max(1, Math.round(Math.max(...size))),
      ...behind('front'),
    } as BackPicture
    chosenId.value = name
    await project.edit(`Picture ${file.name}`.slice(0, 120), (plan) => {
      plan.pictures = [...(plan.pictures ?? []), picture]
    })
    look(picture)
  } catch (error) {
    await project.refused(error)
  } finally {
    busy.value = false
    if (picker.value) picker.value.value = ''
  }
}
function look(picture: BackPicture): void {
  const wide = picture.across_mm ?? 200
  const { middle } = planeOf(picture)
  viewport.lookAt = {
    eye: [...EYES[picture.view ?? 'front']],
    at: [middle.x, middle.y, middle.z],
    reach: 0.6 * wide * Math.max(1, picture.high_px / picture.wide_px),
  }
}
function change(changes: Partial<BackPicture>, label: string): void {
  const own = chosen.value
  if (!own) return
  measured.value = null
  void project.edit(label.slice(0, 120), (plan) => {
    plan.pictures = plan.pictures?.map((p) => (p.id === own.id ? { ...p, ...changes } : p))
  })
}
function seenFrom(event: Event): void {
  const view = (event.target as HTMLSelectElement).value as NonNullable<BackPicture['view']>
  change(behind(view), 'View of a picture')
  if (chosen.value) look({ ...chosen.value, ...behind(view) })
}
function remove(): void {
  const own = chosen.value
  if (!own) return
  void project.edit(`Took out ${own.file_name || 'a picture'}`.slice(0, 120), (plan) => {
    plan.pictures = plan.pictures?.filter((p) => p.id !== own.id)
  })
}
async function twoPoints(words: string[]): Promise<[[number, number], [number, number]] | null> {
  const own = chosen.value
  if (!own) return null
  look(own)
  const { middle, n } = planeOf(own)
  const spots = await tools.pickOn(words, [middle.x, middle.y, middle.z], [n.x, n.y, n.z])
  return spots && [seenAt(own, spots[0]!.at), seenAt(own, spots[1]!.at)]
}
async function measure(): Promise<void> {
  const found = await twoPoints([
    'Click one point of the picture.',
    'Click the other point, whose distance is known.',
  ])
  if (found) measured.value = { one: found[0], other: found[1] }
}
/** Made so large that the two points are as far apart as they are known to be; the first one stays. */
function scale(): void {
  const own = chosen.value
  const now = measured.value
  if (!own || !now || !known.value) return
  const far = Math.hypot(now.other[0] - now.one[0], now.other[1] - now.one[1])
  if (far < 0.01) return project.say('The two points lie in one place. Click them further apart.')
  const by = known.value / far
  const to = (v: number, still: number) => Math.round((still + (v - still) * by) * 1000) / 1000
  change(
    {
      across_mm: Math.round((own.across_mm ?? 200) * by * 1000) / 1000,
      right_mm: to(own.right_mm ?? 0, now.one[0]),
      up_mm: to(own.up_mm ?? 0, now.one[1]),
    },
    'Scaled a picture by two points',
  )
}
async function shift(): Promise<void> {
  const own = chosen.value
  const found = await twoPoints(['Click a point of the picture.', 'Click where it belongs.'])
  if (!own || !found) return
  const [[x, y], [a, b]] = found
  const to = (v: number) => Math.round(v * 1000) / 1000
  change(
    { right_mm: to((own.right_mm ?? 0) + a - x), up_mm: to((own.up_mm ?? 0) + b - y) },
    'Moved a picture',
  )
}
</script>

<template>
  <div class="block" data-test="pictures">
    <h2>
      Pictures behind it <small>{{ pictures.length || 'to size and place things by' }}</small>
    </h2>
    <ul v-if="pictures.length" class="list">
      <li v-for="p in pictures" :key="p.id" :class="{ on: p.id === chosen?.id }" @click="chosenId = p.id">
        <button class="plain grow" data-test="picture">{{ p.file_name || p.id }}</button>
        <span class="end">{{ p.on === false ? 'hidden' : `from ${VIEWS[p.view ?? 'front']}` }}</span>
      </li>
    </ul>
    <input
      ref="picker"
      type="file"
      accept="image/jpeg,image/png,image/webp"
      hidden
      data-test="picture-file"
      @change="bring(($event.target as HTMLInputElement).files)"
    />
    <div class="chips">
      <button
        class="chip"
        :disabled="busy || !project.begun"
        data-test="add-picture"
        @click="picker?.click()"
      >
        {{ busy ? 'Bringing it in …' : '+ Picture' }}
      </button>
      <template v-if="chosen">
        <button
          class="chip"
          data-test="picture-shown"
          @click="change({ on: chosen.on === false }, 'Picture shown or hidden')"
        >
          {{ chosen.on === false ? 'Show' : 'Hide' }}
        </button>
        <button class="chip" @click="remove">Take out</button>
      </template>
    </div>
    <template v-if="chosen">
      <div class="row">
        <label for="picture-view">Seen from</label>
        <select
          id="picture-view"
          class="ruled"
          data-test="picture-view"
          :value="chosen.view ?? 'front'"
          @change="seenFrom"
        >
          <option v-for="(words, view) in VIEWS" :key="view" :value="view">{{ words }}</option>
        </select>
      </div>
      <SchemaForm
        schema="BackPicture"
        :fields="FIELDS"
        :value="chosen"
        @change="(field, value, title) => change({ [field]: value }, `${title} of a picture`)"
      />
      <div class="chips">
        <button class="chip" data-test="picture-points" @click="measure">Scale by two points</button>
        <button class="chip" data-test="picture-move" @click="shift">Move by two points</button>
        <button class="chip" @click="look(chosen)">Look at it</button>
      </div>
      <div v-if="measured" class="row" data-test="picture-known">
        <span class="label">Are apart</span>
        <span class="known">
          <RuledNumber
            v-model="known"
            label="Distance of the two points"
            :min="0.1"
            :max="100000"
            data-test="field-picture-known"
          />
          <button class="chip" data-test="picture-scale" @click="scale">Scale it</button>
        </span>
      </div>
    </template>
  </div>
</template>

<style scoped>
.known {
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.known :deep(.ruled-number) {
  width: 84px;
}
</style>
