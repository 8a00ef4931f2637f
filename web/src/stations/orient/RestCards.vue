<script setup lang="ts">
/** The best ways to lay a piece, on cards to compare: a small picture of each, and the figures that differ. */
import { shallowRef, watch } from 'vue'
import type { PieceView } from '@/api/client'
import { duration, fixed, mm, mm2, pigment } from '@/api/format'
import { pictureOf } from '@/view3d/picture'
import type { Candidate } from './useOrienting'

const props = defineProps<{ piece: PieceView; candidates: Candidate[] }>()
const emit = defineEmits<{ pick: [one: Candidate] }>()
const HERE = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]
const lies = (c: Candidate) => c.rest.down.every((v, k) => Math.abs(v - props.piece.rest.down[k]!) < 2e-3)
const pictureName = (c: Candidate) => `${props.piece.mesh} ${c.rest.down.join()}`
const pictures = shallowRef<Record<string, string>>({})
watch(
  () => props.candidates,
  async (now) => {
    const p = props.piece
    for (const c of now) {
      const name = pictureName(c)
      if (pictures.value[name]) continue
      const drawn = await pictureOf([
        { mesh: p.mesh, colour: pigment(p.number), matrix: c.rest.matrix },
        ...(c.support_mesh ? [{ mesh: c.support_mesh, colour: '#b9a98c', matrix: HERE }] : []),
      ])
      pictures.value = { ...pictures.value, [name]: drawn }
    }
  },
  { immediate: true },
)
/** The figures of a card: support and height always, of the rest only what differs between the cards. */
function lines(c: Candidate) {
  const all = props.candidates.map(figures)
  return figures(c).filter(
    (own, k) => k < 2 || (own.text && all.some((other) => other[k]!.text !== own.text)),
  )
}
function figures(c: Candidate): { what: string; text: string; look?: boolean }[] {
  const scars = c.scars_show_mm2 + c.scars_mating_mm2 + c.scars_joint_mm2 > 1
  return [
    {
      what: 'support',
      text: `support ${fixed(c.support_mm3 / 1000, 1)} cm³`,
    },
    {
      what: 'height',
      text: `${mm(c.rest.height_mm)} mm high`,
    },
    { what: 'overhang', text: `overhang ${mm2(c.rest.overhang_mm2)}` },
    { what: 'bed', text: `bed ${mm2(c.rest.contact_mm2)}: ${holdWords(c)}` },
    { what: 'tip', text: `tips at ${fixed(c.tip_deg, c.tip_deg < 10 ? 1 : 0)}°` },
    { what: 'time', text: `about ${duration(c.minutes)}` },
    { what: 'steps', text: `layer lines ${mm2(c.steps_mm2)}` },
    {
      what: 'pins',
      text: c.strength < 1 ? `pins at ${Math.round(c.strength * 100)} %` : 'pins at 100 %',
    },
    { what: 'scars', text: scars ? `scars: ${scarsOf(c)}` : 'no scars', look: scars },
  ]
}
const holdWords = (c: Candidate) => (c.loose > 5 ? 'may come loose' : c.loose > 2.5 ? 'holds' : 'holds well')
/** What support touches that should stay clean. */
function scarsOf(c: Candidate): string {
  const parts: [number, string][] = [
    [c.scars_show_mm2, 'to be seen'],
    [c.scars_mating_mm2, 'mating'],
    [c.scars_joint_mm2, 'joints'],
  ]
  return parts
    .filter(([area]) => area > 1)
    .map(([area, what]) => `${Math.round(area)} mm² ${what}`)
    .join(', ')
}
</script>

<template>
  <ul class="rests">
    <li v-for="(c, i) in candidates" :key="i">
      <button
        class="card"
        :class="{ on: lies(c) }"
        :aria-pressed="lies(c)"
        data-test="rest"
        @click="!lies(c) && emit('pick', c)"
      >
        <img v-if="pictures[pictureName(c)]" :src="pictures[pictureName(c)]" alt="" />
        <span v-else class="blank"></span>
        <span class="figures">
          <b>{{ c.rest.what }}</b>
          <small v-if="c.broken.length" class="bad">{{ c.broken.join(', ') }}</small>
          <small class="flow">
            <span v-for="line in lines(c)" :key="line.what" :class="{ look: line.look }">{{
              line.text
            }}</span>
          </small>
          <small v-for="s in c.said" :key="s" class="look">{{ s }}</small>
        </span>
      </button>
    </li>
  </ul>
</template>

<style scoped>
.rests {
  list-style: none;
  padding: 0;
  margin: 0 0 10px;
  display: flex;
  flex-direction: column;
  gap: 6px;
}
.card {
  width: 100%;
  display: grid;
  grid-template-columns: 62px 1fr;
  gap: 8px;
  align-items: center;
  text-align: left;
  background: none;
  border: 1px solid var(--line-strong);
  padding: 6px 8px;
  cursor: pointer;
}
.card img,
.blank {
  width: 62px;
  height: 62px;
}
.figures {
  display: flex;
  flex-direction: column;
  min-width: 0;
}
.card small {
  color: var(--ink-soft);
  font-size: 11.5px;
}
.card small.bad {
  color: var(--vermilion);
}
.flow {
  display: flex;
  flex-wrap: wrap;
  gap: 0 9px;
}
.flow .look {
  color: var(--ochre);
}
.card small.look {
  color: var(--ochre);
}
.card.on {
  border-color: var(--cedar);
  background: var(--cedar-tint);
}
.card b {
  font-weight: 600;
}
</style>
