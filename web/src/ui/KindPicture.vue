<script setup lang="ts">
/** A small drawing of what a kind of parting or joint does: two pieces, and in colour what is cut or holds them. */
const props = defineProps<{ kind: string }>()

interface Drawing {
  /** the pieces, drawn as wood and as paper */
  lower: string
  upper: string
  /** what it is about */
  mark: string
  solid?: boolean
}
const BLOCK = { lower: 'M4 3h28v20H4z', upper: '' }
const HALVES = { lower: 'M3 13h30v10H3z', upper: 'M3 3h30v10H3z' }
const WALLS = { lower: 'M3 13h6v10H3z M27 13h6v10h-6z', upper: 'M3 3h6v10H3z M27 3h6v10h-6z' }
const DRAWINGS: Record<string, Drawing> = {
  flat: { ...BLOCK, mark: 'M1 13h34' },
  even: { ...BLOCK, mark: 'M1 8h34M1 13h34M1 18h34' },
  wedges: {
    lower: 'M18 3a10 10 0 1 0 .01 0z',
    upper: '',
    mark: 'M18 1v24M7.6 7l20.8 12M7.6 19 28.4 7',
  },
  profile: { ...BLOCK, mark: 'M1 16c7-9 10 6 17-2s10-4 17 1' },
  lap: { ...BLOCK, mark: 'M1 9h17v8h17' },
  hatch: { ...BLOCK, mark: 'M11 8h14v10H11z' },
  detach: { lower: 'M4 23V13h11V3h6v10h11v10z', upper: '', mark: 'M11 13h14' },
  lumps: { lower: 'M3 6h12v17H3z', upper: 'M22 6h11v17H22z', mark: 'M18.5 2v22' },
  pin: { ...HALVES, mark: 'M9 13V7h5v6zM22 13V7h5v6z', solid: true },
  dowel: { ...HALVES, mark: 'M9 7h5v12H9zM22 7h5v12h-5z', solid: true },
  dovetail: { ...HALVES, mark: 'M14 13l-3-6h14l-3 6z', solid: true },
  key: { ...HALVES, mark: 'M11 7h14l-4.5 6 4.5 6H11l4.5-6z', solid: true },
  lip: { ...WALLS, mark: 'M6 13V7h3v6zM27 13V7h3v6z', solid: true },
  tongue: { ...HALVES, mark: 'M14 13V8h8v5z', solid: true },
  finger: { ...HALVES, mark: 'M3 16V10h6v6h6v-6h6v6h6v-6h6v6' },
  splice: { ...WALLS, mark: 'M9 7h3v12H9zM24 7h3v12h-3z', solid: true },
  thread: { ...WALLS, mark: 'M10 13l3-1.5-3-1.5 3-1.5-3-1.5h16l-3 1.5 3 1.5-3 1.5 3 1.5' },
  bayonet: { ...WALLS, mark: 'M11 13V6h14v7M25 9h4M11 9H7' },
  magnet: { ...HALVES, mark: 'M12 9h12v4H12zM12 13h12v4H12z', solid: true },
  screw: { ...HALVES, mark: 'M13 4h10v3H13zM16 7v13h4V7M16 11l4 2M16 15l4 2' },
  hinge: { ...HALVES, mark: 'M1 13a4 4 0 1 1 8 0 4 4 0 1 1-8 0zM9 13h24' },
  rail: { ...HALVES, mark: 'M15 13v-3h-4V6h14v4h-4v3z', solid: true },
  hook: { ...WALLS, mark: 'M11 13V6l5 4h-2v3z', solid: true },
  latch: { ...HALVES, mark: 'M15 17a3 3 0 1 0 6 0 3 3 0 1 0-6 0zM18 14V7h8' },
  butt: { ...HALVES, mark: 'M3 13h30' },
}
const drawing = DRAWINGS[props.kind]
</script>

<template>
  <svg v-if="drawing" class="kind" viewBox="0 0 36 26" aria-hidden="true">
    <path class="lower" :d="drawing.lower" />
    <path class="upper" :d="drawing.upper" />
    <path class="mark" :class="{ solid: drawing.solid }" :d="drawing.mark" />
  </svg>
</template>

<style scoped>
.kind {
  width: 27px;
  height: 19px;
  margin: -2px 4px -4px -3px;
  vertical-align: baseline;
  stroke-linejoin: round;
}
.lower {
  fill: var(--wood-deep);
  stroke: var(--ink-soft);
}
.upper {
  fill: var(--drawing);
  stroke: var(--ink-soft);
}
.mark {
  fill: none;
  stroke: var(--cedar);
  stroke-width: 1.8;
}
.mark.solid {
  fill: var(--cedar-tint);
}
</style>
