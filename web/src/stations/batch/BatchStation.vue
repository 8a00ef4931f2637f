<script setup lang="ts">
import { computed } from 'vue'
import { cm3, size } from '@/api/format'
import { useLooking } from '@/stores/looking'
import { useProject } from '@/stores/project'

const project = useProject()
const looking = useLooking()
const fitting = computed(() => project.pieces.filter((p) => p.fits).length)
</script>

<template>
  <div class="block">
    <h2>Batches</h2>
    <p>
      {{ fitting }} of {{ project.pieces.length }} pieces fit {{ project.printer?.name }}, one piece to a bed.
      Several pieces on one bed are not laid out yet; export the pieces and print them one by one.
    </p>
    <table class="plain-table">
      <thead>
        <tr>
          <th></th>
          <th>As it lies</th>
          <th class="num">Volume</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="p in project.pieces" :key="p.key" :class="{ on: p.number === looking.piece }">
          <td>
            <button class="plain" @click="looking.piece = p.number">{{ p.number }}</button>
          </td>
          <td :class="{ bad: !p.fits }">{{ size(p.rest.size_mm) }}</td>
          <td class="num">{{ cm3(p.volume_mm3) }}</td>
        </tr>
        <tr v-for="part in project.build?.loose ?? []" :key="part.name">
          <td></td>
          <td>{{ part.count + (part.spares ?? 0) }} × {{ part.name }}</td>
          <td></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
tr.on {
  background: var(--cedar-tint);
}
p {
  margin: 0 0 10px;
}
</style>
