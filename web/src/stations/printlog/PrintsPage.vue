<script setup lang="ts">
/** All prints, the newest first; the chosen one with what it took, its photograph and its note. */
import { computed, onMounted, ref, useTemplateRef } from 'vue'
import { duration } from '@/api/format'
import { usePrintLog, type Print } from '@/stores/printlog'
import RuledNumber from '@/ui/RuledNumber.vue'
import UnderWay from './UnderWay.vue'
import RuledText from '@/ui/RuledText.vue'
import { dateLanguage } from '@/words/language'

const log = usePrintLog()
onMounted(() => log.loadMachines())
const one = computed(() => log.prints.find((p) => p.id === log.print) ?? null)
const deleting = ref(false)
const picker = useTemplateRef<HTMLInputElement[]>('picker')
function choose(print: Print): void {
  log.print = log.print === print.id ? null : print.id
  deleting.value = false
}
const time = (iso: string | null) =>
  iso
    ? new Date(iso).toLocaleString(dateLanguage(), {
        day: 'numeric',
        month: 'short',
        hour: '2-digit',
        minute: '2-digit',
      })
    : '–'
function came(print: Print): string {
  const failed = print.items.filter((i) => i.state === 'failed').length
  const pieces = `${print.items.length} ${print.items.length === 1 ? 'thing' : 'things'}`
  return failed ? `${pieces}, ${failed} failed` : pieces
}
/** What came of the things on a bed, equal ones told once. */
function gathered(print: Print): { name: string; came: string; many: number; failed: boolean }[] {
  const found = new Map<string, { name: string; came: string; many: number; failed: boolean }>()
  for (const i of print.items) {
    const name = i.name.replace(/ \(\d+\)$/, '')
    const more = i.state === 'failed' ? i.reason : i.result
    const came = more ? `${i.state}, ${more}` : i.state
    const one = found.get(`${name} ${came}`) ?? { name, came, many: 0, failed: i.state === 'failed' }
    found.set(`${name} ${came}`, { ...one, many: one.many + 1 })
  }
  return [...found.values()]
}
async function add(): Promise<void> {
  const file = picker.value?.[0]?.files?.[0]
  if (file && one.value) await log.addPhoto(one.value.id, file)
  if (picker.value?.[0]) picker.value[0].value = ''
}
/** the spool it was printed from, while it is there */
const spoolOf = (print: Print): string => {
  const found = log.spools.find((s) => s.id === print.spool_id)
  return found ? ` from ${found.name}` : ''
}
const beside = (measured: number | null, estimated: number): string =>
  measured === null || measured === 0
    ? ''
    : ` (${measured < estimated ? '−' : '+'}${Math.abs(Math.round(100 * (measured / estimated - 1)))} %)`
</script>

<template>
  <div class="block">
    <p v-if="!log.prints.length" class="soft">
      Nothing has been sent out yet. Send the first batch from the page Send; from then on it is kept here.
    </p>
    <ul class="list" data-test="prints">
      <template v-for="p in log.prints" :key="p.id">
        <li
          :class="{ on: p.id === log.print }"
          tabindex="0"
          data-test="print"
          @click="choose(p)"
          @keydown.enter.self="choose(p)"
        >
          <span class="tag">{{ p.number }}</span>
          <span class="grow"
            >{{ p.batch.title }}<small class="soft line">{{ came(p) }}, {{ p.machine }}</small></span
          >
          <span class="end" :class="{ bad: p.state === 'broke off' || p.state === 'refused' }">{{
            p.state
          }}</span>
        </li>
        <li v-if="p.id === log.print && one" class="inside" data-test="print-detail">
          <UnderWay v-if="log.active.some((a) => a.id === p.id)" :print="p" />
          <table class="plain-table">
            <tbody>
              <tr>
                <th>Revision, sent</th>
                <td>{{ one.revision }}, {{ time(one.sent_at) }}</td>
              </tr>
              <tr>
                <th>Begun, ended</th>
                <td>{{ time(one.begun_at) }}, {{ time(one.ended_at) }}</td>
              </tr>
              <tr>
                <th>{{ one.batch.printer }}</th>
                <td>
                  {{ one.batch.material }}{{ spoolOf(one) }}, layers {{ one.batch.layer_mm }} mm,
                  {{ one.batch.settings.walls }} walls, {{ one.batch.settings.infill_percent }} % infill
                </td>
              </tr>
              <tr>
                <th>Estimated</th>
                <td>{{ duration(one.batch.minutes) }}, {{ Math.round(one.batch.grams) }} g</td>
              </tr>
              <tr>
                <th>Took</th>
                <td data-test="measured">
                  <RuledNumber
                    :model-value="one.minutes === null ? null : Math.round(one.minutes)"
                    label="Minutes it took"
                    unit="min"
                    :digits="0"
                    :step="5"
                    :min="1"
                    :max="1000000"
                    empty
                    data-test="minutes-taken"
                    @update:model-value="$event !== null && log.annotate(one!.id, { minutes: $event })"
                  />
                  <span v-if="one.minutes !== null" class="beside"
                    >{{ duration(one.minutes) }}{{ beside(one.minutes, one.batch.minutes) }}</span
                  >
                </td>
              </tr>
              <tr>
                <th>Used</th>
                <td>
                  <RuledNumber
                    :model-value="one.grams === null ? null : Math.round(one.grams * 10) / 10"
                    label="Grams used"
                    unit="g"
                    :digits="1"
                    :step="1"
                    :min="0"
                    :max="100000"
                    empty
                    data-test="grams-used"
                    @update:model-value="$event !== null && log.annotate(one!.id, { grams: $event })"
                  />
                </td>
              </tr>
            </tbody>
          </table>
          <p v-if="one.why" class="look small">{{ one.why }}</p>
          <p
            v-for="g in gathered(one)"
            :key="`${g.name} ${g.came}`"
            class="small body"
            :class="{ bad: g.failed }"
          >
            {{ g.many > 1 ? `${g.many} × ` : '' }}{{ g.name }}: {{ g.came }}
          </p>
          <img
            v-if="one.photo"
            :src="`/api/prints/${one.id}/photo?of=${one.photo.slice(0, 12)}`"
            :alt="`Photograph of print ${one.number}`"
            data-test="print-photo"
          />
          <RuledText
            placeholder="a note"
            maxlength="2000"
            label="Note to this print"
            :model-value="one.note"
            data-test="print-note"
            @update:model-value="log.annotate(one!.id, { note: $event })"
          />
          <div class="chips below">
            <a class="chip" :href="`/api/prepared/${one.batch.file.replace('.3mf', '.json')}/file`" download>
              The file that went out
            </a>
            <button class="chip" @click="picker?.[0]?.click()">
              {{ one.photo ? 'Another photograph' : 'Add a photograph' }}
            </button>
            <button v-if="one.photo" class="chip" @click="log.dropPhoto(one.id)">Take it away</button>
            <input
              ref="picker"
              type="file"
              accept="image/jpeg,image/png,image/webp"
              hidden
              data-test="print-photo-file"
              @change="add"
            />
            <template v-if="!log.active.includes(p)">
              <button v-if="!deleting" class="chip" @click="deleting = true">Take out of the log</button>
              <template v-else>
                <span class="bad small">With all that was said of its pieces?</span>
                <button class="chip" @click="log.drop(p.id)">Yes, take it out</button>
                <button class="chip" @click="deleting = false">Keep it</button>
              </template>
            </template>
          </div>
        </li>
      </template>
    </ul>
    <button v-if="log.log?.older" class="chip" @click="((log.most += 200), log.load())">
      {{ log.log.older }} older
    </button>
  </div>
</template>

<style scoped>
.line {
  display: block;
}
.list > li.inside {
  display: block;
  cursor: default;
  background: var(--paper);
}
.inside th {
  width: 92px;
  vertical-align: top;
}
.inside p {
  margin: 3px 4px;
}
.body {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
img {
  display: block;
  max-width: 100%;
  margin: 5px 0;
  border: 1px solid var(--line-strong);
}
.below {
  margin-top: 6px;
}
.beside {
  margin-left: 8px;
}
.inside :deep(.ruled-number) {
  width: 92px;
}
</style>
