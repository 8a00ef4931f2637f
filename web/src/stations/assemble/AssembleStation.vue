<script setup lang="ts">
/** Assemble: the order that is proved, how things come out again, what holds, how it stands, what moves, and the sheets. */
import { computed, type Component } from 'vue'
import { useAssembly, works, type AssemblePage } from '@/stores/assembly'
import { askEachRevision } from '@/stores/eachRevision'
import { useParts } from '@/stores/parts'
import { useProject } from '@/stores/project'
import AskedBar from '@/ui/AskedBar.vue'
import PageTabs from '@/ui/PageTabs.vue'
import BalancePage from './BalancePage.vue'
import HoldsPage from './HoldsPage.vue'
import MovingPage from './MovingPage.vue'
import SheetsPage from './SheetsPage.vue'
import StepsPage from './StepsPage.vue'
import TakeOutPage from './TakeOutPage.vue'
import WhatIs from '@/ui/WhatIs.vue'

const project = useProject()
const assembly = useAssembly()
const parts = useParts()
const PAGES: Record<AssemblePage, { name: string; page: Component }> = {
  steps: { name: 'Steps', page: StepsPage },
  out: { name: 'Take out', page: TakeOutPage },
  holds: { name: 'Holds', page: HoldsPage },
  balance: { name: 'Balance', page: BalancePage },
  moving: { name: 'Moving', page: MovingPage },
  sheets: { name: 'Sheets', page: SheetsPage },
}
const failing = computed(() => assembly.steps.filter((s) => !works(s)))
const sampled = computed(() => assembly.steps.filter((s) => s.proof === 'tried by sampling'))
const unknown = computed(() => assembly.steps.filter((s) => s.proof === 'not checked'))

askEachRevision(
  () => assembly.view !== null && !assembly.old,
  () => assembly.busy,
  assembly.plan,
)
</script>

<template>
  <div class="block">
    <div v-if="parts.standing > 1" class="chips scope" role="group" aria-label="What is put together">
      <button
        v-for="[id, words] in [
          ['part', parts.open?.name ?? 'This part'],
          ['project', 'All parts'],
        ] as const"
        :key="id"
        class="chip"
        :aria-pressed="assembly.scope === id"
        :data-test="`scope-${id}`"
        @click="assembly.turnTo(id)"
      >
        {{ words }}
      </button>
    </div>
    <h2>
      Assembly
      <small>{{ assembly.steps.length }} {{ assembly.steps.length === 1 ? 'step' : 'steps' }}</small>
      <WhatIs word="step" />
    </h2>
    <template v-if="assembly.view && assembly.steps.length">
      <p v-if="failing.length" class="bad" data-test="proof">
        {{ failing.length === 1 ? 'One step does' : `${failing.length} steps do` }} not work:
        {{ failing.map((s) => s.step).join(', ') }}.
      </p>
      <p v-else-if="unknown.length" class="look" data-test="proof">
        {{ assembly.steps.length - unknown.length }} steps are proved; {{ unknown.length }} are not checked.
      </p>
      <p v-else class="good" data-test="proof">
        The order works: every way was tested against all that is there{{
          sampled.length ? `, ${sampled.length} of them by sampling` : ''
        }}.
      </p>
      <p v-if="assembly.view.pinned" class="soft" data-test="pinned">
        The order is yours, as pinned.
        <button class="chip" data-test="unpin" @click="assembly.unpin()">Take Hinoki’s order</button>
      </p>
    </template>
    <p v-else-if="assembly.view" class="soft">The steps come with the pieces, at Divide.</p>
    <AskedBar v-if="assembly.busy" :told="assembly.told" test="assembly-job" @stop="assembly.stop()" />
    <p v-else-if="!assembly.view || assembly.old" class="look">
      {{ assembly.view ? 'This is the order of the plan as it was.' : 'The order is not worked out yet.' }}
      <button class="chip" data-test="plan-order" :disabled="!project.upToDate" @click="assembly.plan()">
        Work out the order
      </button>
    </p>
  </div>
  <PageTabs :pages="PAGES" :at="assembly.page" label="Pages of Assemble" @turn="assembly.page = $event" />
  <component :is="PAGES[assembly.page].page" v-if="assembly.view || assembly.page === 'moving'" />
</template>

<style scoped>
.scope {
  margin-bottom: 8px;
}
p {
  margin: 0 0 6px;
}
</style>
