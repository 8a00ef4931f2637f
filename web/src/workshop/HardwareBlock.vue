<script setup lang="ts">
/** The maker's own sizes of hardware, and what lies in the drawer. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useProject } from '@/stores/project'
import { freeId, useWorkshop } from '@/stores/workshop'
import { defaultsOf, kindOf, kindsOf, shownFields } from '@/ui/schema'
import RuledNumber from '@/ui/RuledNumber.vue'
import SchemaForm from '@/ui/SchemaForm.vue'
import RuledText from '@/ui/RuledText.vue'

type OwnSize = Schemas['OwnSize']
type Kind = OwnSize['size']['kind']
const project = useProject()
const workshop = useWorkshop()
const kinds = kindsOf('own_sizes')
const formOf = (kind: string) => kindOf('own_sizes', kind)
const sizes = computed(() => workshop.all?.own_sizes ?? [])
const stock = computed(() => workshop.all?.stock ?? [])
const chosenId = ref('')
const chosen = computed(() => sizes.value.find((s) => s.id === chosenId.value) ?? null)
const fields = computed(() =>
  chosen.value ? shownFields(formOf(chosen.value.size.kind), chosen.value.size) : [],
)
const name = ref('')
const count = ref<number | null>(1)
const long = ref<number | null>(null)

async function tried(action: () => Promise<void>): Promise<void> {
  try {
    await action()
  } catch (error) {
    await project.refused(error)
  }
}
const add = (kind: Kind) =>
  tried(async () => {
    const own = `Own ${formOf(kind).name}`
    const id = freeId(
      own,
      sizes.value.map((s) => s.id),
    )
    const size = { ...defaultsOf(formOf(kind).model), kind } as OwnSize['size']
    await workshop.keepOwnSize({ id, name: own, size })
    chosenId.value = id
  })
const rename = (to: string) =>
  tried(async () => {
    if (chosen.value && to.trim()) await workshop.keepOwnSize({ ...chosen.value, name: to.trim() })
  })
const set = (field: string, value: unknown) =>
  tried(async () => {
    const now = chosen.value
    if (now && value !== null)
      await workshop.keepOwnSize({ ...now, size: { ...now.size, [field]: value } as OwnSize['size'] })
  })
const keepStock = () =>
  tried(async () => {
    if (!name.value.trim()) return
    await workshop.keepStock({ name: name.value.trim(), count: count.value ?? 0, length_mm: long.value })
    name.value = ''
  })
</script>

<template>
  <div data-test="own-hardware">
    <h2>Hardware <small>own sizes</small></h2>
    <ul v-if="sizes.length" class="list">
      <li
        v-for="s in sizes"
        :key="s.id"
        :class="{ on: s.id === chosenId }"
        data-test="own-size"
        @click="chosenId = s.id"
      >
        <button class="plain grow">{{ s.name }}</button>
        <span class="end">{{ formOf(s.size.kind).name }}</span>
      </li>
    </ul>
    <div class="chips">
      <button
        v-for="info in kinds"
        :key="info.kind"
        class="chip"
        :data-test="`add-own-${info.kind}`"
        @click="add(info.kind as Kind)"
      >
        + {{ info.name[0]!.toUpperCase() + info.name.slice(1) }}
      </button>
      <button
        v-if="chosen"
        class="chip"
        data-test="drop-own"
        @click="tried(() => workshop.dropOwnSize(chosen!.id))"
      >
        Take out
      </button>
    </div>
    <template v-if="chosen">
      <div class="row">
        <span class="label">Name</span>
        <RuledText
          :model-value="chosen.name"
          maxlength="60"
          label="Name of the own size"
          data-test="own-name"
          @update:model-value="rename"
        />
      </div>
      <SchemaForm
        :key="chosen.id"
        :schema="formOf(chosen.size.kind).model"
        :fields="fields"
        :value="chosen.size"
        @change="set"
      />
    </template>
    <p v-else class="soft small">Sizes that no table has. Joints and rods offer them under “On sale”.</p>
    <h2>Drawer <small>what is there already</small></h2>
    <div v-for="item in stock" :key="item.name" class="stock" data-test="stock">
      <span>{{ item.name }}</span>
      <RuledNumber
        :model-value="item.length_mm ?? item.count ?? 0"
        :label="`How much of ${item.name}`"
        :unit="item.length_mm ? 'mm' : ''"
        :digits="0"
        :min="0"
        :max="1000000"
        :step="1"
        @update:model-value="
          tried(() =>
            workshop.keepStock(
              item.length_mm ? { ...item, length_mm: $event ?? 0 } : { ...item, count: $event ?? 0 },
            ),
          )
        "
      />
      <button
        class="chip"
        :aria-label="`No more ${item.name}`"
        @click="tried(() => workshop.keepStock({ name: item.name, count: 0 }))"
      >
        ×
      </button>
    </div>
    <div class="stock new">
      <input
        v-model="name"
        class="ruled"
        maxlength="120"
        placeholder="as the hardware list writes it"
        aria-label="Name of what is in the drawer"
        data-test="stock-name"
      />
      <RuledNumber
        v-model="count"
        label="How many"
        unit=""
        :digits="0"
        :min="0"
        :max="1000000"
        :step="1"
        data-test="stock-count"
      />
      <RuledNumber
        v-model="long"
        label="Length in all"
        unit="mm"
        :digits="0"
        :min="0"
        :max="1000000"
        :step="10"
      />
      <button class="chip" data-test="stock-add" @click="keepStock">Add</button>
    </div>
  </div>
</template>

<style scoped>
h2 {
  margin-top: 12px;
}
.stock {
  display: grid;
  grid-template-columns: 1fr 84px auto;
  gap: 8px;
  align-items: center;
  padding: 2px 0;
}
.stock.new {
  grid-template-columns: 1fr 54px 84px auto;
  margin-top: 4px;
}
.small {
  font-size: 12px;
}
</style>
