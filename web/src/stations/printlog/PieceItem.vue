<script setup lang="ts">
/** One printed body: how it came out, where it is in its life, how it fits, and where it differs once it is out of date. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { ANSWERS, type PieceState } from '@/api/states'
import { usePrintLog, type BoardRow, type Item } from '@/stores/printlog'
import { useProject } from '@/stores/project'
import AskedBar from '@/ui/AskedBar.vue'
import RuledText from '@/ui/RuledText.vue'

const props = defineProps<{ item: Item; row: BoardRow }>()
const project = useProject()
const log = usePrintLog()
const failing = ref(false)
const joint = ref('')
const REASONS: NonNullable<Item['reason']>[] = [
  'came loose',
  'warped',
  'support scar',
  'ran out',
  'too tight',
  'broke',
  'printer stopped',
  'other',
]
const print = computed(() => log.prints.find((p) => p.id === props.item.print_id))
const old = computed(() =>
  props.row.old.some((i) => i.print_id === props.item.print_id && i.item === props.item.item),
)
const next = computed(() => log.steps(props.item.state).filter((s) => s !== 'failed'))
const joints = computed(() => {
  const number = props.row.number
  if (!number || !log.isMade(props.item.state)) return []
  const faces = project.faces.filter((f) => f.a === number || f.b === number)
  return project.joints.filter((j) => faces.some((f) => f.id === j.face))
})
const comparison = computed(() => {
  const now = log.difference
  return now && now.item.print_id === props.item.print_id && now.item.item === props.item.item
    ? now.found
    : null
})
const asking = ref(false)

function state(to: string): void {
  if (to !== props.item.state) void log.mark(props.item, { state: to as PieceState })
}
function fail(reason: string): void {
  failing.value = false
  void log.mark(props.item, { result: 'failed', reason: reason as Item['reason'] })
}
async function compare(): Promise<void> {
  asking.value = true
  await log.compare(props.item)
  asking.value = false
}
function answer(to: string): void {
  if (joint.value)
    void log.answerFit(props.item.print_id, joint.value, to as Schemas['NewFitAnswer']['answer'])
}
</script>

<template>
  <div class="item" data-test="log-item">
    <div class="head">
      <span
        >Print {{ print?.number
        }}<template v-if="row.needed > 1 || item.copy_number > 1">, {{ item.copy_number }}.</template>
        <span class="soft"> revision {{ print?.revision }}</span></span
      >
      <select
        class="ruled state"
        :value="item.state"
        aria-label="Where it is in its life"
        data-test="item-state"
        :disabled="!next.length"
        @change="state(($event.target as HTMLSelectElement).value)"
      >
        <option :value="item.state">{{ item.state }}</option>
        <option v-for="s in next.filter((n) => n !== item.state)" :key="s" :value="s">{{ s }}</option>
      </select>
    </div>
    <p v-if="item.reason" class="bad small">failed: {{ item.reason }}</p>
    <div
      v-if="item.state !== 'not printed' && item.state !== 'in a batch'"
      class="chips"
      role="group"
      aria-label="How it came out"
    >
      <button
        class="chip"
        :aria-pressed="item.result === 'good'"
        data-test="came-good"
        @click="log.mark(item, { result: 'good' })"
      >
        Good
      </button>
      <button
        class="chip"
        :aria-pressed="item.result === 'usable after clean-up'"
        data-test="came-usable"
        @click="log.mark(item, { result: 'usable after clean-up' })"
      >
        Usable after clean-up
      </button>
      <button
        class="chip"
        :aria-pressed="item.state === 'failed'"
        data-test="came-failed"
        @click="failing = !failing"
      >
        Failed
      </button>
    </div>
    <div v-if="failing" class="chips reasons" data-test="reasons">
      <button v-for="r in REASONS" :key="r" class="chip" @click="fail(r)">{{ r }}</button>
    </div>
    <template v-if="old">
      <p class="look small" data-test="out-of-date">Out of date: the plan has another shape for it now.</p>
      <AskedBar v-if="asking" :told="log.comparingTold" test="comparing" @stop="log.stopComparing()" />
      <button
        v-else-if="!comparison"
        class="chip"
        data-test="differs"
        :disabled="log.comparing"
        @click="compare"
      >
        Where does it differ?
      </button>
      <p v-if="comparison" class="small" :class="comparison.mates ? 'good' : 'bad'" data-test="difference">
        {{ comparison.says }}
      </p>
      <p v-if="comparison?.more_mesh || comparison?.less_mesh" class="soft small">
        In the view: <b class="more">striped red</b> what it has more, <b class="less">dotted blue</b> what it
        lacks.
      </p>
    </template>
    <div v-if="joints.length" class="fit">
      <select v-model="joint" class="ruled" aria-label="Joint" data-test="fit-joint">
        <option value="">How did a joint go together?</option>
        <option v-for="j in joints" :key="j.id" :value="j.id">{{ j.face_label }} {{ j.label }}</option>
      </select>
      <div v-if="joint" class="chips">
        <button
          v-for="(words, key) in ANSWERS"
          :key="key"
          class="chip"
          :data-test="`fit-${key}`"
          @click="answer(key)"
        >
          {{ words }}
        </button>
      </div>
    </div>
    <RuledText
      class="note"
      placeholder="a note"
      maxlength="2000"
      :label="`Note to ${item.name}`"
      :model-value="item.note"
      data-test="item-note"
      @update:model-value="log.mark(item, { note: $event })"
    />
  </div>
</template>

<style scoped>
.item {
  padding: 5px 0 7px;
  border-top: 1px solid var(--line);
}
p {
  margin: 0 0 4px;
}
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 8px;
  margin-bottom: 5px;
}
.state {
  width: 116px;
}
.reasons {
  margin-top: 5px;
}
.fit {
  margin-top: 5px;
  display: grid;
  gap: 4px;
}
.note {
  margin-top: 4px;
}
.more {
  color: var(--vermilion);
}
.less {
  color: var(--indigo);
}
</style>
