<script setup lang="ts">
import { mm } from '@/api/format'
import { useProject } from '@/stores/project'
import NothingYet from '@/ui/NothingYet.vue'

const project = useProject()
const NAMES = ['Width X', 'Depth Y', 'Height Z']
</script>

<template>
  <table v-if="project.build?.model" class="plain-table" data-test="fit-table">
    <thead>
      <tr>
        <th></th>
        <th class="num">Model</th>
        <th class="num">Bed</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(name, k) in NAMES" :key="name">
        <td>{{ name }}</td>
        <td class="num">{{ mm(project.build.model.size_mm[k]!) }}</td>
        <td class="num">{{ project.room[k] }}</td>
        <td class="num" :class="project.build.model.size_mm[k]! > project.room[k]! ? 'bad' : 'good'">
          {{
            project.build.model.size_mm[k]! > project.room[k]!
              ? `over ${mm(project.build.model.size_mm[k]! - project.room[k]!)}`
              : 'fits'
          }}
        </td>
      </tr>
    </tbody>
  </table>
  <NothingYet v-else empty="Bring in a model first." />
</template>
