<script setup lang="ts">
import type { Finding } from '@/api/client'
import { useLooking } from '@/stores/looking'
import { useProject } from '@/stores/project'

defineProps<{ findings: Finding[] }>()
const project = useProject()
const looking = useLooking()
const WORDS = { 'must-fix': 'must fix', 'look-at': 'look at', note: 'note' } as const

function go(finding: Finding): void {
  if (finding.piece) looking.piece = finding.piece
  if (finding.parting) looking.parting = finding.parting
  const face = project.faces.find((f) => f.label === finding.face)
  if (face) looking.face = face.id
  if (finding.at_mm) {
    looking.marks = [{ line: [], at: finding.at_mm, tone: finding.severity }]
    looking.flyTo = { at: finding.at_mm, reach: 8 }
  }
}
/** Put a finding right by its fix. */
function mend(fix: NonNullable<Finding['fix']>): void {
  void project.edit(fix.label, (plan) => {
    plan.together = [...(plan.together ?? []), { pieces: [...(fix.pieces ?? [])] }]
  })
}
</script>

<template>
  <ul class="findings">
    <li v-for="(f, i) in findings" :key="i" :class="f.severity" data-test="finding">
      <button class="plain" @click="go(f)">
        <b>{{ WORDS[f.severity] }}</b> {{ f.message }}
      </button>
      <button v-if="f.fix" class="chip" data-test="fix" @click="mend(f.fix)">{{ f.fix.label }}</button>
    </li>
  </ul>
</template>
