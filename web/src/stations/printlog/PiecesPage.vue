<script setup lang="ts">
/** Every piece and loose part by its state; the chosen one with all that was printed of it. */
import { watch } from 'vue'
import { background } from '@/api/states'
import { useSelection } from '@/stores/selection'
import { usePrintLog, type BoardRow } from '@/stores/printlog'
import PieceItem from './PieceItem.vue'

const log = usePrintLog()
const selection = useSelection()
function choose(row: BoardRow): void {
  log.chosen = log.chosen === row.key ? null : row.key
  if (row.number) selection.piece = row.number
}
// a piece chosen on the model, on the board or in the cut list is the one shown here
watch(
  () => selection.piece,
  (number) => {
    const found = log.rows.find((r) => r.number === number)
    if (found) log.chosen = found.key
  },
)
const extra = (row: BoardRow): string =>
  [
    row.old.length ? 'out of date' : '',
    row.missing && row.items.some((i) => i.state === 'failed') ? 'failed' : '',
    row.missing && row.items.some((i) => i.state === 'lost') ? 'lost' : '',
    row.missing && row.needed > 1 ? `${row.missing} of ${row.needed} missing` : '',
    row.spares ? `${row.spares} spare${row.spares > 1 ? 's' : ''}` : '',
  ]
    .filter(Boolean)
    .join(', ')
</script>

<template>
  <div class="block">
    <ul class="list" data-test="log-pieces">
      <template v-for="row in log.rows" :key="row.key">
        <li
          :class="{ on: row.key === log.chosen }"
          tabindex="0"
          data-test="log-piece"
          @click="choose(row)"
          @keydown.enter.self="choose(row)"
        >
          <span class="swatch" :style="{ background: background(row.state) }" aria-hidden="true"></span>
          <span class="tag">{{ row.number ?? '' }}</span>
          <span class="grow">{{ row.name }}</span>
          <span class="end"
            ><span v-if="extra(row)" :class="row.old.length ? 'look' : 'soft'">{{ extra(row) }} · </span
            >{{ row.state }}</span
          >
        </li>
        <li v-if="row.key === log.chosen" class="inside">
          <PieceItem
            v-for="item in row.items"
            :key="`${item.print_id} ${item.item}`"
            :item="item"
            :row="row"
          />
          <p v-if="!row.items.length" class="soft small">
            It was never sent out. Its batch is on the page Send.
          </p>
        </li>
      </template>
    </ul>
    <template v-if="log.standing?.gone.length">
      <h2>No more in the plan</h2>
      <p v-for="item in log.standing.gone" :key="`${item.print_id} ${item.item}`" class="small">
        {{ item.name }}: {{ item.state }}. The plan has no such piece any more.
      </p>
    </template>
  </div>
</template>

<style scoped>
.swatch {
  width: 15px;
  height: 15px;
  border: 1px solid var(--line-strong);
  flex: none;
}
.list > li.inside {
  display: block;
  cursor: default;
  background: var(--paper);
}
.list .tag {
  min-width: 18px;
}
.end {
  white-space: nowrap;
}
</style>
