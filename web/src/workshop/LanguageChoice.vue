<script setup lang="ts">
/** The language that the screens are read in, kept in this browser. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, got, type Schemas } from '@/api/client'
import { language, languageTrouble, readIn } from '@/words/language'

const { data } = useQuery({
  queryKey: ['languages'],
  queryFn: async () => got<Schemas['LanguagesView']>(await api.GET('/api/languages')),
})
const usable = computed(() => (data.value?.languages ?? []).filter((one) => !one.problem))
const broken = computed(() => (data.value?.languages ?? []).filter((one) => one.problem))
const chosen = computed(() => usable.value.find((one) => one.code === language.value))
const choose = (event: Event): void => readIn((event.target as HTMLSelectElement).value)
</script>

<template>
  <label class="language">
    Language
    <select class="ruled" :value="chosen ? language : ''" data-test="language" @change="choose">
      <option value="" translate="no" lang="en">English</option>
      <option v-for="one in usable" :key="one.code" :value="one.code" :lang="one.code" translate="no">
        {{ one.name }}
      </option>
    </select>
  </label>
  <p v-if="chosen" class="soft">
    {{ Math.floor(chosen.share * 100) }} % of what Hinoki says is in this language; the rest, and printed
    sheets, stay English.
  </p>
  <p v-else-if="data && !usable.length" class="soft">
    Hinoki comes in English. Another language is one file, a catalogue such as de.po, in the folder
    <code translate="no">{{ data.folder }}</code>.
  </p>
  <p v-if="languageTrouble" class="bad">{{ languageTrouble }}</p>
  <p v-for="one in broken" :key="one.code" class="bad">{{ one.problem }}</p>
</template>

<style scoped>
.language {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 8px;
}
select {
  border-bottom: 1px solid var(--rule);
  padding: 2px 4px;
}
p {
  font-size: 12px;
}
code {
  overflow-wrap: anywhere;
}
</style>
