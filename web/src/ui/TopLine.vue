<script setup lang="ts">
import { mdiRedo, mdiUndo } from '@mdi/js'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useProject } from '@/stores/project'
import LightSwitch from './LightSwitch.vue'

const project = useProject()
const router = useRouter()
const route = useRoute()
const emit = defineEmits<{ help: [] }>()
const state = computed(() => (project.saving ? 'saving …' : 'saved'))
const toModel = () => router.push(`/projects/${String(route.params['id'])}/model`)
</script>

<template>
  <header class="top">
    <router-link to="/" class="mark" aria-label="Hinoki: to the shelf of projects"
      ><span translate="no">Hinoki</span></router-link
    >
    <span class="bar"></span>
    <strong class="name">{{ project.revision?.name }}</strong>
    <span class="soft spoken" data-test="revision"
      >Revision {{ project.revision?.revision }} · {{ state }}</span
    >
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
    <LightSwitch />
    <button
      class="keys"
      title="Keyboard, words, guide"
      aria-label="Help"
      data-test="help-button"
      @click="emit('help')"
    >
      ?
    </button>
    <button class="printer" title="Choose the printer at Model" @click="toModel">
      <b>{{ project.printer?.name }}</b> {{ project.room.join(' × ') }} mm
    </button>
    <v-btn
      class="out"
      color="primary"
      height="32"
      aria-label="Export pieces"
      :loading="project.exporting !== null"
      :disabled="!project.begun"
      data-test="export"
      @click="project.exportPieces()"
    >
      <span>Export<span class="more"> pieces</span></span>
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
@media (max-width: 1100px) {
  .top {
    gap: 8px;
  }
}
@media (max-width: 720px) {
  .top {
    gap: 4px;
    padding: 0 8px;
  }
  .top > .printer,
  .top > .keys,
  .top > .bar,
  .top > .spoken {
    display: none;
  }
  .top > .out {
    padding: 0 10px;
  }
  .more {
    display: none;
  }
}
@media (max-width: 480px) {
  .top > [data-test='light-switch'] {
    display: none;
  }
}
</style>
