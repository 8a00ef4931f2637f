<script setup lang="ts">
/** Findings: each flies to its place, offers its fixes, and can be accepted with a reason. */
import { ref } from 'vue'
import type { Finding, Plan } from '@/api/client'
import { noted } from '@/api/notes'
import { added } from '@/stations/join/joints'
import { movedBy } from '@/stations/divide/partings'
import { useSelection } from '@/stores/selection'
import { useViewport } from '@/stores/viewport'
import { useProject } from '@/stores/project'

type Fix = NonNullable<Finding['fixes']>[number]
defineProps<{ findings: Finding[] }>()
const project = useProject()
const selection = useSelection()
const viewport = useViewport()
const WORDS = { 'must-fix': 'must fix', 'look-at': 'look at', note: 'note' } as const
/** the finding whose reason is being written */
const accepting = ref('')
const reason = ref('')

function go(finding: Finding): void {
  if (finding.piece) selection.piece = finding.piece
  if (finding.parting) selection.parting = finding.parting
  const face = project.faces.find((f) => f.label === finding.face)
  if (face) selection.face = face.id
  if (finding.at_mm) {
    viewport.marks = [{ line: [], at: finding.at_mm, tone: finding.severity }]
    viewport.flyTo = { at: finding.at_mm, reach: 8 }
  }
}

const MENDED: Record<Exclude<Fix['kind'], 'rod' | 'carve'>, (plan: Plan, fix: Fix) => void> = {
  together: (plan, fix) => {
    plan.together = [...(plan.together ?? []), { pieces: [...(fix.pieces ?? [])] }]
  },
  joint: (plan, fix) => {
    const next = fix.joint!
    plan.joints = plan.joints?.map((j) => (j.id === next.id ? next : j))
  },
  'add-joint': (plan, fix) => added(plan, [fix.joint!]),
  rest: (plan, fix) => noted(plan, fix.pieces![0]!, { down: fix.down }),
  shift: (plan, fix) => {
    plan.partings = plan.partings?.map((p) => (p.id === fix.parting ? movedBy(p, fix.by_mm ?? 0) : p))
  },
}
/** Put a finding right by its fix. */
function mend(fix: Fix): void {
  const { kind } = fix
  if (kind === 'rod') void putRod(fix.face!)
  else if (kind === 'carve') void carve(fix)
  else void project.edit(fix.label, (plan) => MENDED[kind](plan, fix))
}
/** the face through which a rod is looked for just now, or what is carved */
const looking = ref('')
/** Look for a rod through a seam; says what came of it. */
async function putRod(face: string): Promise<void> {
  if (looking.value) return
  looking.value = face
  const found = await project.command('put-rod', { face })
  looking.value = ''
  if (!found) return
  const way = project.plan?.ways?.find((w) => w.id === found.rod)
  if (!found.rod || !way) return project.say(found.why ?? '')
  const gone = (found.given_up ?? []).join(', ').toUpperCase()
  project.say(
    `A rod ø${way.diameter_mm} goes through: the seam bears ${(found.times ?? 0).toFixed(1)} times what bends it.${gone && ` ${gone} made room for it.`}`,
  )
}
/** Carve what moves past a part out of it. */
async function carve(fix: Fix): Promise<void> {
  const [moved, other] = fix.pieces ?? []
  if (looking.value || !moved || !other || !fix.movement) return
  looking.value = other
  const found = await project.command('carve-path', {
    movement: fix.movement,
    moved,
    other,
    by_mm: fix.by_mm ?? 0.4,
  })
  looking.value = ''
  if (found?.said) project.say(`${found.said}.`)
}
function accept(finding: Finding): void {
  const why = reason.value.trim()
  if (!why) return
  accepting.value = reason.value = ''
  const kept = finding.whole ? 'project_accepted' : 'accepted'
  void project.edit(`Accepted: ${why}`, (plan) => {
    plan[kept] = {
      ...plan[kept],
      [finding.id]: { reason: why, message: finding.message, params: finding.params },
    }
  })
}
function takeBack(finding: Finding): void {
  void project.edit('Took back an acceptance', (plan) => {
    // up to 0.11 those about the whole project were kept with a part
    for (const kept of finding.whole ? (['project_accepted', 'accepted'] as const) : (['accepted'] as const))
      plan[kept] = Object.fromEntries(
        Object.entries(plan[kept] ?? {}).filter(([id]) => id !== finding.accepted_id),
      )
  })
}
</script>

<template>
  <ul class="findings">
    <li
      v-for="(f, i) in findings"
      :key="f.id || i"
      :class="[f.severity, { accepted: f.accepted }]"
      data-test="finding"
    >
      <button class="plain" :title="f.code" @click="go(f)">
        <b>{{ f.accepted ? 'accepted' : WORDS[f.severity] }}</b> {{ f.message }}
      </button>
      <p v-if="f.accepted" class="soft why">{{ f.accepted }}</p>
      <div v-if="f.id" class="chips">
        <template v-if="!f.accepted">
          <button
            v-for="fix in f.fixes"
            :key="fix.label"
            class="chip"
            :disabled="['rod', 'carve'].includes(fix.kind) && !!looking"
            data-test="fix"
            @click="mend(fix)"
          >
            {{ fix.label }}
          </button>
        </template>
        <button v-if="f.accepted" class="chip" data-test="take-back" @click="takeBack(f)">Take back</button>
        <button
          v-else-if="accepting !== f.id"
          class="chip quiet"
          data-test="accept"
          @click="((accepting = f.id), (reason = ''))"
        >
          Accept…
        </button>
        <form v-else class="reason" @submit.prevent="accept(f)">
          <input
            v-model="reason"
            class="ruled"
            placeholder="why it may stay"
            aria-label="Why it may stay"
            maxlength="200"
            data-test="reason"
            @keydown.esc="accepting = ''"
          />
          <button class="chip" :disabled="!reason.trim()" data-test="accept-it">Accept</button>
        </form>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.chips {
  margin-top: 3px;
}
.quiet {
  border-color: transparent;
  color: var(--ink-soft);
}
.accepted {
  opacity: 0.75;
}
.why {
  margin: 1px 0 0;
}
.reason {
  display: flex;
  gap: 6px;
  width: 100%;
}
</style>
