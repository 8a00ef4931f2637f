<script setup lang="ts">
/** What moves: the movements of the project, what each of them moves and by what, and what trying them showed. */
import { computed } from 'vue'
import { askEachRevision } from '@/stores/eachRevision'
import { useMoving } from '@/stores/moving'
import AskedBar from '@/ui/AskedBar.vue'
import FindingList from '@/ui/FindingList.vue'
import { kindsOf } from '@/ui/schema'
import MovementForm from './MovementForm.vue'

const moving = useMoving()
const kinds = kindsOf('movements')
const chosen = computed(() => moving.chosen)
const travel = computed(() => moving.view?.travels.find((t) => t.movement === chosen.value?.id) ?? null)
/** whether what is true at all positions tried is so between them, too */
const proved = computed(() => moving.view?.travels.every((t) => t.proved) ?? false)

askEachRevision(
  () => moving.view !== null && !moving.old,
  () => moving.busy,
  moving.tryAll,
)
</script>

<template>
  <div class="block" data-test="moving">
    <h2>What moves <small>tried through its whole travel</small></h2>
    <ul v-if="moving.movements.length" class="list">
      <li
        v-for="m in moving.movements"
        :key="m.id"
        :class="{ on: m.id === chosen?.id }"
        data-test="movement"
        @click="moving.chosenId = m.id"
      >
        <button class="plain grow">{{ moving.labelOf(m.id) }}</button>
        <span class="end soft">{{ m.moves?.length ? `${m.moves.length}` : 'nothing yet' }}</span>
      </li>
    </ul>
    <p v-else class="soft small">
      A lever about its axle, a drawer in its guide, gears that mesh, a crank and its rod: say what moves, and
      it is tried against everything that stands there.
    </p>
    <MovementForm v-if="chosen" :movement="chosen" />
    <div class="chips">
      <button
        v-for="k in kinds"
        :key="k.kind"
        class="chip"
        :title="k.says"
        :data-test="`add-movement-${k.kind}`"
        @click="moving.add(k.kind)"
      >
        + {{ k.name }}
      </button>
      <button v-if="chosen" class="chip" data-test="remove-movement" @click="moving.remove(chosen)">
        Remove
      </button>
    </div>
    <AskedBar v-if="moving.busy" :told="moving.told" test="moving-job" @stop="moving.halt()" />
    <p v-else-if="!moving.view || moving.old" class="look">
      {{ moving.view ? 'This was found for the plan as it was.' : 'It is not tried yet.' }}
      <button class="chip" data-test="try-moving" @click="moving.tryAll()">Try it</button>
    </p>
    <template v-if="moving.view && moving.movements.length">
      <p v-for="s in travel?.says ?? []" :key="s" class="soft small" data-test="moving-says">{{ s }}</p>
      <p v-for="s in moving.view.says" :key="s" class="soft small" data-test="moving-together">{{ s }}</p>
      <div class="chips">
        <button
          v-for="(mark, k) in travel?.marks ?? []"
          :key="k"
          class="chip"
          :class="{ bad: mark.touches }"
          data-test="moving-mark"
          @click="moving.goTo(travel!.movement, mark.value)"
        >
          {{ mark.touches ? 'Touches' : 'Nearest' }} at {{ mark.value.toFixed(1)
          }}{{ moving.unitOf(travel!.movement) }}
        </button>
      </div>
      <FindingList v-if="moving.findings.length" :findings="moving.findings" />
      <p v-else-if="travel?.says.length" class="good small" data-test="moving-good">
        Nothing touches anything {{ proved ? 'on its way' : 'at the positions that were tried' }}.
      </p>
    </template>
  </div>
</template>

<style scoped>
.small {
  font-size: 12px;
  margin: 4px 0;
}
</style>
