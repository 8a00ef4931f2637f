<script setup lang="ts">
/** The steps in order: chosen, ticked, dragged, grouped. */
import Sortable from 'sortablejs'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, useTemplateRef, watch } from 'vue'
import { useAssembly, type AssemblyStep } from '@/stores/assembly'
import FindingList from '@/ui/FindingList.vue'
import LockedBlock from './LockedBlock.vue'
import StepDetail from './StepDetail.vue'
import StepLine from './StepLine.vue'
import ListSearch from '@/ui/ListSearch.vue'
import { holds } from '@/ui/search'

const assembly = useAssembly()
const list = useTemplateRef<HTMLElement>('list')
const looked = ref('')
const found = computed(
  () =>
    new Set(
      assembly.steps.filter((s) => holds([s.step, s.title, s.how, s.note], looked.value)).map((s) => s.lead),
    ),
)
/** the units of the steps that are to become a group; null: none is being made */
const grouping = ref<string[] | null>(null)
const done = computed(() => assembly.steps.filter((s) => assembly.bench.ticked.includes(s.lead)).length)
const open = computed(() => assembly.findings.filter((f) => !f.accepted))
const accepted = computed(() => assembly.findings.filter((f) => f.accepted))

function put(unit: string, before: string | null): void {
  const title = assembly.steps.find((s) => s.lead === unit)?.title ?? unit
  void assembly.arrange(`Moved the step of ${title}`, { kind: 'move', unit, before })
}
function shift(step: AssemblyStep, by: -1 | 1): void {
  const k = assembly.steps.indexOf(step)
  const before = by < 0 ? assembly.steps[k - 1] : assembly.steps[k + 2]
  put(step.lead, before?.lead ?? null)
}
function pick(unit: string): void {
  if (!grouping.value) return
  grouping.value = grouping.value.includes(unit)
    ? grouping.value.filter((u) => u !== unit)
    : [...grouping.value, unit]
}
function group(): void {
  const units = grouping.value ?? []
  grouping.value = null
  void assembly.arrange('Made a group', { kind: 'group', units })
}

let sorting: Sortable | null = null
onMounted(() => {
  sorting = Sortable.create(list.value!, {
    handle: '.grip',
    animation: 120,
    forceFallback: true,
    onEnd: ({ item, from, oldIndex, newIndex }) => {
      if (oldIndex === undefined || newIndex === undefined || oldIndex === newIndex) return
      // the row goes back: it moves when the order does
      item.remove()
      from.insertBefore(item, from.children[oldIndex] ?? null)
      const others = assembly.steps.filter((_, k) => k !== oldIndex)
      const unit = assembly.steps[oldIndex]!.lead
      put(unit, others[newIndex]?.lead ?? null)
    },
  })
})
onBeforeUnmount(() => sorting?.destroy())
watch(
  () => assembly.step?.step,
  async () => {
    await nextTick()
    list.value?.querySelector('.on')?.scrollIntoView({ block: 'nearest' })
  },
)
</script>

<template>
  <div class="block">
    <ListSearch v-model="looked" :count="assembly.steps.length" :shown="found.size" of="steps" />
    <ol ref="list" class="list" data-test="steps">
      <li
        v-for="(s, k) in assembly.steps"
        v-show="found.has(s.lead)"
        :key="s.lead"
        :class="{ on: s.step === assembly.step?.step, wrong: s.meets, inner: s.builds }"
        data-test="step"
        @click="grouping ? pick(s.lead) : assembly.go(s.step)"
      >
        <StepLine :step="s" :picked="grouping ? grouping.includes(s.lead) : null" />
        <StepDetail
          v-if="!grouping && s.step === assembly.step?.step"
          :step="s"
          :first="k === 0"
          :last="k === assembly.steps.length - 1"
          @shift="shift(s, $event)"
        />
      </li>
    </ol>
    <div v-if="assembly.steps.length" class="chips">
      <template v-if="grouping">
        <span class="soft say">Choose what is put together first.</span>
        <button class="chip" :disabled="grouping.length < 2" data-test="group-these" @click="group">
          Group these {{ grouping.length || '' }}
        </button>
        <button class="chip" @click="grouping = null">Leave it</button>
      </template>
      <template v-else>
        <button class="chip" data-test="group" @click="grouping = []">Make a group …</button>
        <button v-if="!assembly.view?.pinned" class="chip" data-test="pin" @click="assembly.pin()">
          Pin this order
        </button>
      </template>
    </div>
  </div>
  <div v-if="assembly.steps.length" class="block" data-test="ticked">
    <p>
      <b>{{ done }} of {{ assembly.steps.length }}</b> steps ticked at the bench.
      <button v-if="done" class="chip" data-test="untick" @click="assembly.untick()">
        Take all ticks back
      </button>
    </p>
    <p v-if="assembly.ticksWaiting" class="look" aria-live="polite" data-test="ticks-waiting">
      {{ assembly.ticksWaiting }} {{ assembly.ticksWaiting === 1 ? 'tick is' : 'ticks are' }} kept in this
      browser, since Hinoki does not answer; they are sent as soon as it does.
    </p>
  </div>
  <LockedBlock v-for="l in assembly.view?.locked" :key="l.units.join()" :locked="l" />
  <div v-if="open.length" class="block">
    <h2>
      To mind <small>{{ open.length }}</small>
    </h2>
    <FindingList :findings="open" />
  </div>
  <div v-if="accepted.length" class="block">
    <h2>
      Accepted <small>{{ accepted.length }}</small>
    </h2>
    <FindingList :findings="accepted" />
  </div>
</template>

<style scoped>
.list {
  margin-bottom: 10px;
}
.list > li {
  flex-wrap: wrap;
  gap: 0;
}
.list > li.wrong {
  border-left-color: var(--vermilion);
}
.list > li.inner {
  padding-left: 28px;
}
.say {
  flex-basis: 100%;
}
p {
  margin: 0;
}
</style>
