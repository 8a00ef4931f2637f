<script setup lang="ts">
/** The chosen step: what is done, with what, how sure it is; what the maker wrote, photographed and decided. */
import { fixed } from '@/api/format'
import { computed, useTemplateRef } from 'vue'
import { useAssembly, type AssemblyStep } from '@/stores/assembly'
import { useViewport } from '@/stores/viewport'

const props = defineProps<{ step: AssemblyStep; first: boolean; last: boolean }>()
const emit = defineEmits<{ shift: [by: -1 | 1] }>()
const assembly = useAssembly()
const viewport = useViewport()
const picker = useTemplateRef<HTMLInputElement>('picker')
const photo = computed(() => assembly.photoOf(props.step.lead))
const unit = computed(() => assembly.units.get(props.step.lead))
const onto = computed(() => (props.step.onto ? assembly.units.get(props.step.onto) : null))
type Pair = { a: string; b: string }
const same = (g: Pair, h: Pair) => (g.a === h.a && g.b === h.b) || (g.a === h.b && g.b === h.a)
/** Pieces that this step may be glued between: those it joins that are marked, and the two it is about. */
const glues = computed(() => {
  const { units, into, lead } = props.step
  const across = (g: Pair) =>
    (units.includes(g.a) && (into ?? []).includes(g.b)) || (units.includes(g.b) && (into ?? []).includes(g.a))
  const marked = (assembly.wish?.glued ?? []).filter(across).map((g) => ({ ...g, on: true }))
  const own: Pair = { a: lead, b: props.step.onto ?? '' }
  const both = unit.value?.kind === 'piece' && onto.value?.kind === 'piece'
  return both && !marked.some((g) => same(g, own)) ? [...marked, { ...own, on: false }] : marked
})
const nameOf = (id: string) => assembly.units.get(id)?.name ?? id
const comesOff = computed(() => (assembly.wish?.comes_off ?? []).includes(props.step.lead))
const PROOFS = {
  proved: 'Proved: nothing is in its way.',
  'tried by sampling': 'Tried by sampling, not proved.',
  'not checked': 'Not checked.',
  'does not work': '',
  'no order': '',
} as const
const checked = (event: Event) => (event.target as HTMLInputElement).checked

function setGlue(pair: Pair, on: boolean): void {
  const others = (assembly.wish?.glued ?? []).filter((g) => !same(g, pair))
  void assembly.edit(`${props.step.title}: ${on ? 'may be glued' : 'not glued'}`, {
    glued: on ? [...others, { a: pair.a, b: pair.b }] : others,
  })
}
function setComesOff(on: boolean): void {
  const others = (assembly.wish?.comes_off ?? []).filter((u) => u !== props.step.lead)
  void assembly.edit(`${props.step.title}: ${on ? 'comes off again' : 'may stay'}`, {
    comes_off: on ? [...others, props.step.lead] : others,
  })
}
function setNote(event: Event): void {
  const text = (event.target as HTMLTextAreaElement).value.trim()
  if (text === (props.step.note ?? '')) return
  const others = Object.entries(assembly.wish?.notes ?? {}).filter(([unit]) => unit !== props.step.lead)
  const notes = Object.fromEntries(text ? [...others, [props.step.lead, text]] : others)
  void assembly.edit(`Note at ${props.step.title}`, { notes })
}
function ungroup(): void {
  void assembly.arrange(`Resolved the group of ${props.step.title}`, {
    kind: 'ungroup',
    unit: props.step.lead,
  })
}
async function take(): Promise<void> {
  const file = picker.value?.files?.[0]
  if (file) await assembly.addPhoto(props.step.lead, file)
  if (picker.value) picker.value.value = ''
}
function showMeeting(): void {
  const at = props.step.meets?.at
  if (!at) return
  viewport.marks = [{ line: [], at, tone: 'must-fix' }]
  viewport.flyTo = { at, reach: 12 }
}
</script>

<template>
  <div class="detail" data-test="step-detail" @click.stop>
    <p v-if="step.turn" class="look">{{ step.turn }}</p>
    <p data-test="step-how">{{ step.how }}</p>
    <p v-if="step.why" class="bad" data-test="step-why">
      {{ step.why }}
      <button v-if="step.meets?.at" class="chip" data-test="show-meeting" @click="showMeeting">
        Show where
      </button>
    </p>
    <p v-for="h in step.hardware" :key="`${h.name} ${h.length_mm}`" class="need">
      {{ h.count }} × {{ h.name
      }}<template v-if="h.length_mm">, {{ fixed(h.length_mm, 0) }} mm long</template>
    </p>
    <p v-for="note in step.notes" :key="note" data-test="step-note">{{ note }}</p>
    <p v-if="step.hold" class="look">{{ step.hold }}</p>
    <p v-if="step.glue && !step.undo" class="look">Glue: this cannot be undone.</p>
    <p v-else-if="!step.undo" class="look">This cannot be undone.</p>
    <p v-if="step.added" class="look">It came after the order was pinned; drag it to where it goes.</p>
    <p v-if="PROOFS[step.proof]" class="soft" data-test="step-proof">{{ PROOFS[step.proof] }}</p>
    <label v-for="g in glues" :key="`${g.a}|${g.b}`" class="mark">
      <input type="checkbox" :checked="g.on" data-test="may-glue" @change="setGlue(g, checked($event))" />
      {{ nameOf(g.a) }} may be glued to {{ nameOf(g.b) }}
    </label>
    <label class="mark">
      <input
        type="checkbox"
        :checked="comesOff"
        data-test="comes-off"
        @change="setComesOff(checked($event))"
      />
      must come off again
    </label>
    <textarea
      class="note"
      rows="1"
      maxlength="500"
      placeholder="your note, printed on the sheet"
      aria-label="Your note at this step"
      :value="step.note"
      data-test="note"
      @change="setNote"
    ></textarea>
    <figure v-if="photo">
      <img :src="photo" alt="Photograph of this step" data-test="photo" />
      <button class="chip" data-test="drop-photo" @click="assembly.dropPhoto(step.lead)">Take it away</button>
    </figure>
    <div class="chips">
      <button class="chip" :disabled="first" data-test="earlier" @click="emit('shift', -1)">Earlier</button>
      <button class="chip" :disabled="last" data-test="later" @click="emit('shift', 1)">Later</button>
      <button v-if="step.group" class="chip" data-test="ungroup" @click="ungroup">Resolve the group</button>
      <button v-if="!photo" class="chip" data-test="add-photo" @click="picker?.click()">Photograph …</button>
      <input ref="picker" type="file" accept="image/*" hidden data-test="photo-file" @change="take" />
    </div>
  </div>
</template>

<style scoped>
.detail {
  width: 100%;
  padding: 2px 0 8px 32px;
  font-size: 12.5px;
  cursor: default;
}
p {
  margin: 0 0 4px;
}
.need {
  color: var(--indigo);
}
.mark {
  display: flex;
  gap: 6px;
  align-items: center;
  margin-bottom: 2px;
}
.note {
  width: 100%;
  font: inherit;
  color: inherit;
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--line-strong);
  margin: 2px 0 6px;
  field-sizing: content;
}
figure {
  margin: 0 0 6px;
}
img {
  display: block;
  max-width: 100%;
  max-height: 160px;
  margin-bottom: 4px;
}
@media (max-width: 600px) {
  .detail {
    padding-left: 0;
    font-size: 14px;
  }
  .chips .chip {
    min-height: 36px;
  }
}
</style>
