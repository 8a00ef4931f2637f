<script setup lang="ts">
/** What prints of the piece as it lies: looked at layer by layer, what no line fits into coloured. */
import { onUnmounted, watch } from 'vue'
import type { PieceView } from '@/api/client'
import { usePrints } from '@/stores/prints'
import { useProject } from '@/stores/project'
import { useViewport } from '@/stores/viewport'
import PrintsFigures from '@/ui/PrintsFigures.vue'

const props = defineProps<{ piece: PieceView }>()
const prints = usePrints()
const viewport = useViewport()
const project = useProject()
// another piece, or another revision, is another matter
watch([() => props.piece.key, () => project.revision?.revision], () => prints.leave())
onUnmounted(() => prints.leave())
</script>

<template>
  <div class="block" data-test="prints">
    <h2>What prints of it <small>what no line fits into is lost</small></h2>
    <PrintsFigures :view="prints.fresh(piece.key) ? prints.shown : null" :place="(at) => at" />
    <div class="chips">
      <button class="chip" :disabled="prints.busy" data-test="prints-look" @click="prints.piece(piece.key)">
        Look layer by layer
      </button>
      <button
        v-if="prints.fresh(piece.key)"
        class="chip"
        :aria-pressed="!!viewport.prints"
        data-test="prints-show"
        @click="prints.show(viewport.prints ? null : 'after')"
      >
        As it prints
      </button>
      <button
        class="chip"
        :disabled="prints.busy"
        data-test="prints-time"
        @click="prints.piece(piece.key, true)"
      >
        Time every line
      </button>
      <button v-if="prints.busy" class="chip" @click="prints.stop">Stop</button>
      <span v-if="prints.busy" class="soft" role="status">{{ prints.told.phrase }} …</span>
    </div>
  </div>
</template>
