<script setup lang="ts">
import { computed, nextTick, onMounted, ref, shallowRef, watch } from 'vue'
import { api, got, type PieceView, type Schemas } from '@/api/client'
import { noted } from '@/api/notes'
import { cm3, duration, overBy, mm, pigment, size } from '@/api/format'
import { useBatching } from '@/stores/batching'
import { useParts } from '@/stores/parts'
import { useSelection } from '@/stores/selection'
import { useViewport } from '@/stores/viewport'
import { useProject } from '@/stores/project'
import { useWorkshop } from '@/stores/workshop'
import ListSearch from './ListSearch.vue'
import { holds } from './search'

const project = useProject()
const viewport = useViewport()
const selection = useSelection()
const workshop = useWorkshop()
const parts = useParts()
const looked = ref('')
const fitsWord = (piece: PieceView) => (piece.fits ? 'fits' : 'over')
const shown = computed(() =>
  project.pieces.filter((p) => holds([p.number, p.name, fitsWord(p)], looked.value)),
)
const renaming = ref<number | null>(null)
const typed = ref('')

async function rename(piece: PieceView): Promise<void> {
  renaming.value = piece.number
  typed.value = piece.name
  await nextTick()
  document.querySelector<HTMLInputElement>('[data-test="piece-name"]')?.select()
}

async function keep(piece: PieceView): Promise<void> {
  if (renaming.value !== piece.number) return
  renaming.value = null
  const name = typed.value.trim()
  if (name === piece.name) return
  await project.edit(`Named piece ${piece.number}`, (plan) => {
    noted(plan, piece.key, { name })
  })
}

/** what of the hardware the drawer in the workshop lacks; nothing is said of what it has never held */
const lacks = shallowRef<Schemas['ToBuy'][]>([])
watch(
  [() => project.build?.hardware, () => workshop.all?.stock],
  async ([needed, stock]) => {
    const there = needed?.filter((h) => stock?.some((s) => s.name === h.name)) ?? []
    lacks.value = there.length ? got(await api.POST('/api/workshop/to-buy', { body: there })) : []
  },
  { immediate: true },
)
onMounted(() => workshop.load())
function lackOf(name: string): string {
  const found = lacks.value.find((l) => l.name === name)
  if (!found) return ''
  if (found.length_mm !== null && found.length_mm !== undefined)
    return found.length_mm ? `${mm(found.length_mm)} mm to buy` : 'all in the drawer'
  return found.count ? `${found.count} to buy` : 'all in the drawer'
}

const batching = useBatching()
/** mass, time and batch of a piece, once all is laid out */
function takes(number: number): string {
  const one = batching.tookOf.get(number)!
  const where = one.batches.length ? `, batch ${one.batches.join(', ')}` : ''
  return `${Math.round(one.took.mass_g)} g, about ${duration(one.took.minutes)}${where}`
}

const over = (piece: PieceView): string => {
  const by = overBy(piece.rest.size_mm, project.room)
  return by > 0.05 ? `over by ${mm(by)}` : 'over'
}
</script>

<template>
  <aside class="cuts" aria-label="Cut list">
    <h2>
      Cut list
      <small>
        {{
          project.onItsWay
            ? 'on its way …'
            : `${project.pieces.length} ${project.pieces.length === 1 ? 'piece' : 'pieces'}`
        }}{{ (parts.open?.count ?? 1) > 1 ? `, each × ${parts.open!.count}` : '' }}
      </small>
      <button class="plain fold" aria-label="Fold the cut list away" @click="viewport.cutListOpen = false">
        ›
      </button>
    </h2>
    <ListSearch
      v-model="looked"
      class="look-for"
      :count="project.pieces.length"
      :shown="shown.length"
      of="pieces"
    />
    <ol>
      <li
        v-for="piece in shown"
        :key="piece.key"
        :class="{ on: piece.number === selection.piece }"
        tabindex="0"
        data-test="piece"
        @click="selection.piece = piece.number"
        @keydown.enter.self="selection.piece = piece.number"
      >
        <span class="ball" :style="{ background: pigment(piece.number) }">{{ piece.number }}</span>
        <span class="what">
          <input
            v-if="renaming === piece.number"
            v-model="typed"
            class="ruled"
            maxlength="80"
            data-test="piece-name"
            aria-label="Name of the piece"
            @keydown.enter="keep(piece)"
            @keydown.esc="renaming = null"
            @blur="keep(piece)"
          />
          <span v-else class="name">
            {{ piece.name }}
            <button
              v-if="piece.number === selection.piece"
              class="plain pen"
              data-test="rename"
              @click.stop="rename(piece)"
            >
              rename
            </button>
          </span>
          <small>{{ size(piece.size_mm) }}</small>
          <small v-if="batching.tookOf.get(piece.number)" data-test="piece-takes">
            {{ takes(piece.number) }}
          </small>
        </span>
        <span :class="piece.fits ? 'good' : 'bad'" class="fit">{{ piece.fits ? 'fits' : over(piece) }}</span>
      </li>
    </ol>
    <div v-if="parts.parts.length > 1" class="loose" data-test="other-pieces">
      <h2>Other parts</h2>
      <p v-for="p in parts.parts.filter((one) => !one.open)" :key="p.id">
        <button class="plain" @click="parts.work(p.id)">{{ p.count }} × {{ p.name }}</button
        ><small v-if="p.pieces.length > 1">, {{ p.pieces.length }} pieces each</small>
      </p>
    </div>
    <div v-if="project.build?.loose?.length" class="loose">
      <h2>Loose parts</h2>
      <p v-for="part in project.build.loose" :key="part.name">
        {{ part.count }} × {{ part.name
        }}<small v-if="part.spares"
          >, {{ part.spares }} more as {{ part.spares === 1 ? 'a spare' : 'spares' }}</small
        >
      </p>
    </div>
    <div v-if="project.build?.hardware?.length" class="loose" data-test="hardware">
      <h2>To buy, and to glue</h2>
      <p v-for="item in project.build.hardware" :key="`${item.name} ${item.length_mm}`">
        {{ item.count }} × {{ item.name }}{{ item.length_mm ? `, ${mm(item.length_mm)} mm` : ''
        }}<small v-if="item.spares">, {{ item.spares }} more at hand</small
        ><small v-if="lackOf(item.name)" data-test="to-buy">, {{ lackOf(item.name) }}</small>
      </p>
    </div>
    <p
      v-if="project.build?.balance"
      class="balance"
      :class="project.build.balance.relative_error <= 1e-6 ? 'good' : 'bad'"
    >
      <span>Pieces {{ cm3(project.build.balance.pieces_before_joints_mm3) }}</span>
      {{ project.build.balance.relative_error <= 1e-6 ? '=' : '≠' }}
      <span>model {{ cm3(project.build.balance.model_mm3) }}</span>
    </p>
  </aside>
</template>

<style scoped>
.cuts {
  background: var(--sheet);
  border-left: 1px solid var(--line);
  display: flex;
  flex-direction: column;
  min-height: 0;
}
h2 {
  padding: 14px 14px 0;
}
.fold {
  margin-left: auto;
  font-size: 18px;
  line-height: 1;
  padding: 0 6px;
}
.look-for {
  padding: 0 14px;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
  overflow: auto;
}
li {
  display: grid;
  grid-template-columns: 24px 1fr auto;
  gap: 8px;
  padding: 5px 14px;
  border-bottom: 1px solid var(--line);
  cursor: pointer;
}
li:hover {
  background: var(--paper);
}
li.on {
  background: var(--cedar-tint);
}
.ball {
  color: var(--on-pigment);
  width: 20px;
  height: 20px;
  border-radius: 50%;
  border: 1px solid var(--ink);
  text-align: center;
  font-size: 11px;
  line-height: 18px;
}
.what {
  min-width: 0;
  display: flex;
  flex-direction: column;
}
.name {
  overflow: hidden;
  text-overflow: ellipsis;
}
small {
  color: var(--ink-soft);
  font-size: 11.5px;
}
.pen {
  color: var(--cedar);
  font-size: 11px;
  margin-left: 6px;
  text-decoration: underline;
}
.fit {
  font-size: 12px;
}
.loose p {
  margin: 0;
  padding: 2px 14px;
}
.balance span {
  white-space: nowrap;
}
.balance {
  margin: auto 14px 12px;
  padding-top: 12px;
  font-size: 12px;
}
</style>
