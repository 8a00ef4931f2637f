<script setup lang="ts">
import { mdiRedo, mdiUndo } from '@mdi/js'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { useProject } from '@/stores/project'

const project = useProject()
const router = useRouter()
const emit = defineEmits<{ keys: [] }>()
const state = computed(() => (project.saving ? 'saving …' : 'saved'))
const toModel = () => router.push(`/projects/${project.revision?.project_id}/model`)
</script>

<template>
  <header class="top">
    <router-link to="/" class="mark" aria-label="Hinoki: to the shelf of projects">Hinoki</router-link>
    <span class="bar"></span>
    <strong class="name">{{ project.revision?.name }}</strong>
    <span class="soft" data-test="revision">Revision {{ project.revision?.revision }} · {{ state }}</span>
    <span class="gap"></span>
    <v-btn
      :icon="mdiUndo"
      variant="text"
      size="32"
      :disabled="!project.revision?.undo"
      :title="project.revision?.undo ? `Undo: ${project.revision.undo}` : 'Nothing to undo'"
      aria-label="Undo"
      data-test="undo"
      @click="project.undo()"
    />
    <v-btn
      :icon="mdiRedo"
      variant="text"
      size="32"
      :disabled="!project.revision?.redo"
      :title="project.revision?.redo ? `Redo: ${project.revision.redo}` : 'Nothing to redo'"
      aria-label="Redo"
      data-test="redo"
      @click="project.redo()"
    />
    <button class="keys" title="What the keyboard does" aria-label="Keyboard" @click="emit('keys')">?</button>
    <button class="printer" title="Choose the printer at Model" @click="toModel">
      <b>{{ project.printer?.name }}</b> {{ project.room.join(' × ') }} mm
    </button>
    <v-btn
      color="primary"
      height="32"
      :loading="project.exporting !== null"
      :disabled="!project.begun"
      data-test="export"
      @click="project.exportPieces()"
    >
      Export pieces
    </v-btn>
  </header>
</template>

<style scoped>
.top {
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 0 16px;
  background: var(--sheet);
}
.mark {
  font-family: 'Shippori Mincho', serif;
  font-size: 24px;
  font-weight: 600;
  color: var(--cedar);
  text-decoration: none;
}
.keys {
  width: 24px;
  height: 24px;
  border: 1px solid var(--line-strong);
  border-radius: 50%;
  background: none;
  color: var(--ink-soft);
}
.bar {
  width: 1px;
  height: 24px;
  background: var(--line-strong);
}
.name {
  font-size: 14px;
  font-weight: 600;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.soft {
  white-space: nowrap;
  font-size: 12px;
}
.gap {
  flex: 1;
}
.printer {
  border: 1px solid var(--line-strong);
  border-radius: 2px;
  background: none;
  padding: 4px 10px;
  font-size: 12px;
  white-space: nowrap;
  cursor: pointer;
}
.printer b {
  font-weight: 600;
}
@media (max-width: 600px) {
  .top > .printer,
  .top > .keys,
  .top > .bar,
  .top > [data-test='revision'],
  .top > [data-test='export'] {
    display: none;
  }
}
</style>
