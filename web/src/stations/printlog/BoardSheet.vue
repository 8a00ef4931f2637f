<script setup lang="ts">
/** All pieces on a board: a column for each state of their lives. A piece is taken to another column by dragging or by keys. */
import { computed, ref } from 'vue'
import { pigment } from '@/api/format'
import { background, COLUMNS, type BoardState, type PieceState } from '@/api/states'
import { useSelection } from '@/stores/selection'
import { usePrintLog, type BoardRow, type Item } from '@/stores/printlog'

const log = usePrintLog()
const selection = useSelection()
const dragged = ref<BoardRow | null>(null)
const over = ref<BoardState | null>(null)

const columns = computed(() =>
  COLUMNS.map((state) => ({ state, rows: log.rows.filter((r) => r.state === state) })),
)
const aside = computed(() => {
  const items = log.rows.flatMap((r) => r.items.map((i) => ({ row: r, item: i })))
  return (['spare', 'lost', 'failed'] as const)
    .map((state) => ({ state, items: items.filter(({ item }) => item.state === state) }))
    .filter((c) => c.items.length)
})
/** the printed ones of a row that its state tells of */
const behind = (row: BoardRow): Item[] => row.items.filter((i) => i.state === row.state)
const may = (row: BoardRow, to: BoardState): boolean =>
  row.state !== to && row.state !== 'planned' && log.steps(row.state as PieceState).includes(to as PieceState)

async function take(row: BoardRow, to: BoardState): Promise<void> {
  if (!may(row, to)) return
  for (const item of behind(row)) await log.mark(item, { state: to as PieceState })
}
function dropOn(state: BoardState): void {
  if (dragged.value) void take(dragged.value, state)
  dragged.value = over.value = null
}
function step(row: BoardRow, by: number): void {
  const to = COLUMNS[COLUMNS.indexOf(row.state) + by]
  if (to) void take(row, to)
}
function choose(row: BoardRow): void {
  log.chosen = row.key
  log.page = 'pieces'
  if (row.number) selection.piece = row.number
}
</script>

<template>
  <div class="board" data-test="board">
    <section
      v-for="c in columns"
      :key="c.state"
      :class="{ over: over === c.state && dragged && may(dragged, c.state) }"
      :data-test="`column-${c.state.replaceAll(' ', '-')}`"
      @dragover.prevent="over = c.state"
      @drop.prevent="dropOn(c.state)"
    >
      <h3>
        <span class="swatch" :style="{ background: background(c.state) }" aria-hidden="true"></span>
        {{ c.state }} <small>{{ c.rows.length || '' }}</small>
      </h3>
      <button
        v-for="row in c.rows"
        :key="row.key"
        class="card"
        :class="{ on: row.key === log.chosen, old: row.old.length }"
        :draggable="row.state !== 'planned'"
        data-test="board-card"
        :aria-label="`${row.number ? `Piece ${row.number}` : ''} ${row.name}, ${row.state}${row.old.length ? ', out of date' : ''}. Left and right arrows move it.`"
        @dragstart="dragged = row"
        @dragend="dragged = over = null"
        @click="choose(row)"
        @keydown.right.prevent="step(row, 1)"
        @keydown.left.prevent="step(row, -1)"
      >
        <span v-if="row.number" class="ball" :style="{ background: pigment(row.number) }">{{
          row.number
        }}</span>
        <span class="name">{{ row.name }}</span>
        <small v-if="row.needed > 1" class="soft">{{ row.needed - row.missing }} of {{ row.needed }}</small>
        <small v-if="row.old.length" class="look">out of date</small>
      </button>
    </section>
    <section v-if="aside.length" class="aside">
      <template v-for="c in aside" :key="c.state">
        <h3>
          <span class="swatch" :style="{ background: background(c.state) }" aria-hidden="true"></span>
          {{ c.state === 'spare' ? 'spares on the shelf' : c.state }} <small>{{ c.items.length }}</small>
        </h3>
        <button
          v-for="{ row, item } in c.items"
          :key="`${item.print_id} ${item.item}`"
          class="card"
          @click="choose(row)"
        >
          <span v-if="row.number" class="ball" :style="{ background: pigment(row.number) }">{{
            row.number
          }}</span>
          <span class="name">{{ row.name }}</span>
          <small v-if="item.reason" class="soft">{{ item.reason }}</small>
        </button>
      </template>
    </section>
  </div>
</template>

<style scoped>
.board {
  position: absolute;
  inset: 0;
  overflow: auto;
  background: var(--view);
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  padding: 12px 8px;
  align-content: flex-start;
}
section {
  flex: 1 0 76px;
  min-width: 76px;
  min-height: 60%;
  background: var(--sheet);
  border: 1px solid var(--line);
  padding: 6px;
  display: flex;
  flex-direction: column;
  gap: 5px;
}
section.over {
  border-color: var(--cedar);
  background: var(--cedar-tint);
}
section.aside {
  flex: 1 0 100%;
  min-height: 0;
  flex-flow: row wrap;
  align-items: center;
  gap: 8px;
  border-style: dashed;
}
h3 {
  margin: 0 0 2px;
  min-height: 30px;
  font-size: 11.5px;
  line-height: 1.2;
  font-weight: 600;
  display: flex;
  gap: 5px;
  align-items: center;
}
h3 small {
  color: var(--ink-soft);
  font-weight: 400;
}
.swatch {
  width: 13px;
  height: 13px;
  border: 1px solid var(--line-strong);
  flex: none;
}
.card {
  display: grid;
  gap: 2px;
  justify-items: start;
  text-align: left;
  background: var(--paper);
  border: 1px solid var(--line-strong);
  padding: 4px 5px;
  font-size: 12px;
  cursor: pointer;
}
.card.on {
  border-color: var(--cedar);
}
.card.old {
  border-left: 4px solid var(--ochre);
}
.card .name {
  overflow-wrap: anywhere;
  hyphens: auto;
  line-height: 1.25;
}
.ball {
  color: var(--on-pigment);
  width: 20px;
  height: 20px;
  border-radius: 50%;
  border: 1px solid var(--ink);
  display: grid;
  place-items: center;
  font-size: 11px;
}
</style>
