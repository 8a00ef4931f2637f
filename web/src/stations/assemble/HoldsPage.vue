<script setup lang="ts">
/** Stays together: what holds every unit in each direction, and what falls, in the attitude the model is used in. */
import { fixed } from '@/api/format'
import { computed, ref } from 'vue'
import { useAssembly } from '@/stores/assembly'
import SchemaForm from '@/ui/SchemaForm.vue'

type Holds = NonNullable<NonNullable<ReturnType<typeof useAssembly>['view']>['holds']>[number]
const assembly = useAssembly()
const open = ref<string | null>(null)
const rows = computed(() =>
  (assembly.view?.holds ?? []).map((h) => ({ ...h, of: assembly.units.get(h.unit), sum: summary(h) })),
)
/** The least sure of all directions in few words. */
function summary(holds: Holds): { text: string; tone: string } {
  const loose = holds.ways.filter((w) => w.kind === 'nothing').map((w) => w.way)
  if (loose.length) return { text: `free ${loose.join(', ')}`, tone: 'look' }
  const soft = [...new Set(holds.ways.map((w) => w.kind).filter((k) => k !== 'shape'))]
  return { text: soft.length ? soft.join(', ') : 'shape all round', tone: '' }
}
const named = (units: readonly string[]) => units.map((u) => assembly.units.get(u)?.name ?? u).join(', ')
</script>

<template>
  <div class="block">
    <SchemaForm
      v-if="assembly.wish"
      schema="Assembling"
      :fields="['attitude']"
      :value="assembly.wish"
      @change="(_, value) => assembly.edit(`In use it is ${value}`, { attitude: value as 'standing' })"
    />
    <p v-if="!assembly.view?.falls?.length" class="good" data-test="stays">Everything stays together.</p>
    <p
      v-for="f in assembly.view?.falls"
      :key="f.units.join()"
      :class="f.falls ? 'look' : 'soft'"
      data-test="falls"
    >
      {{ f.says }}
    </p>
  </div>
  <div class="block">
    <ul class="list">
      <li
        v-for="r in rows"
        :key="r.unit"
        :class="{ on: r.unit === open }"
        data-test="holds"
        @click="open = open === r.unit ? null : r.unit"
      >
        <button class="plain tag">{{ r.of?.balloon }}</button>
        <span class="grow">{{ r.of?.name }}</span>
        <span class="end" :class="r.sum.tone">{{ r.sum.text }}</span>
        <table v-if="r.unit === open" class="plain-table" data-test="holds-ways">
          <tbody>
            <tr v-for="w in r.ways" :key="w.way">
              <th>{{ w.way }}</th>
              <td :class="{ look: w.kind === 'nothing' }">
                {{ w.kind }}<template v-if="w.newtons">, {{ fixed(w.newtons, 1) }} N</template>
              </td>
              <td class="soft">{{ named(w.by) }}</td>
            </tr>
          </tbody>
        </table>
      </li>
    </ul>
  </div>
</template>

<style scoped>
p {
  margin: 4px 0 0;
}
.list > li {
  flex-wrap: wrap;
}
table.plain-table th {
  width: 44px;
}
</style>
