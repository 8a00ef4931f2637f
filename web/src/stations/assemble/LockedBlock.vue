<script setup lang="ts">
/** Units that lock each other, and what frees them. */
import { useProject } from '@/stores/project'
import { idOf } from '@/stations/join/joints'
import { useSelection } from '@/stores/selection'
import type { Schemas } from '@/api/client'

defineProps<{ locked: Schemas['LockedView'] }>()
const project = useProject()
const selection = useSelection()
function toJoint(id: string): void {
  const joint = project.plan?.joints?.find((j) => j.id === id)
  if (joint) selection.face = idOf(joint)
}
</script>

<template>
  <div class="block" data-test="locked">
    <h2>No order</h2>
    <p class="bad">{{ locked.says }}</p>
    <template v-if="locked.frees?.length">
      <p class="soft">What would free them, tried:</p>
      <ul>
        <li v-for="f in locked.frees" :key="f.words" data-test="frees">
          {{ f.words }}
          <router-link
            v-if="f.joint"
            class="chip"
            :to="`/projects/${project.revision?.project_id}/join`"
            @click="toJoint(f.joint!)"
            >To the joint</router-link
          >
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
p {
  margin: 0 0 6px;
}
ul {
  margin: 0;
  padding-left: 16px;
}
</style>
