/** The scale of a flat drawing: millimetres to pixels, zoomed and moved, seen from either piece. */
import { useResizeObserver } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import type { FaceView } from '@/api/client'

export interface Bounds {
  x0: number
  x1: number
  y0: number
  y1: number
  cx: number
  cy: number
  w: number
  h: number
}

export function boundsOf(face: FaceView | null): Bounds | null {
  const points = (face?.outline.flat(2) ?? []) as [number, number][]
  if (points.length === 0) return null
  let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity]
  for (const [x, y] of points) {
    x0 = Math.min(x0, x)
    x1 = Math.max(x1, x)
    y0 = Math.min(y0, y)
    y1 = Math.max(y1, y)
  }
  return { x0, x1, y0, y1, cx: (x0 + x1) / 2, cy: (y0 + y1) / 2, w: x1 - x0, h: y1 - y0 }
}

const RIGHT_PX = 14
const DOWN_PX = 18

export function useSheet(sheet: Ref<HTMLElement | null>, face: Ref<FaceView | null>) {
  const width = ref(600)
  const height = ref(500)
  const zoom = ref(1)
  const shift = ref({ x: 0, y: 0 })
  /** seen from piece A, so that right and left change places */
  const mirrored = ref(false)
  const box = computed(() => boundsOf(face.value))
  /** pixels for a millimetre */
  const scale = computed(() => {
    const b = box.value
    return b ? zoom.value * Math.min((width.value - 150) / b.w, (height.value - 130) / b.h) : 1
  })
  const side = computed(() => (mirrored.value ? -1 : 1))
  const midX = computed(() => width.value / 2 + RIGHT_PX + shift.value.x)
  const midY = computed(() => height.value / 2 + DOWN_PX + shift.value.y)
  const X = (u: number) => midX.value + side.value * (u - (box.value?.cx ?? 0)) * scale.value
  const Y = (v: number) => midY.value - (v - (box.value?.cy ?? 0)) * scale.value
  /** plane coordinates of a point of the drawing, in pixels */
  const back = (x: number, y: number): [number, number] => [
    (side.value * (x - midX.value)) / scale.value + (box.value?.cx ?? 0),
    -(y - midY.value) / scale.value + (box.value?.cy ?? 0),
  ]
  const pathOf = (outline: readonly (readonly (readonly (readonly number[])[])[])[]) =>
    outline
      .flat()
      .map((ring) => `M${ring.map((p) => `${X(p[0]!).toFixed(1)} ${Y(p[1]!).toFixed(1)}`).join('L')}Z`)
      .join('')
  const square = computed(() => {
    const wanted = 26 / scale.value
    return [0.5, 1, 2, 5, 10, 20, 50, 100].find((s) => s >= wanted) ?? 100
  })
  const grid = computed(() => {
    const s = square.value
    const range = (low: number, high: number) => {
      const out: number[] = []
      for (let k = Math.ceil(low / s); k * s <= high && out.length < 400; k++) out.push(k * s)
      return out
    }
    const [a, b] = [back(0, 0), back(width.value, height.value)]
    return {
      xs: range(Math.min(a[0], b[0]), Math.max(a[0], b[0])),
      ys: range(Math.min(a[1], b[1]), Math.max(a[1], b[1])),
    }
  })

  function zoomAt(x: number, y: number, factor: number): void {
    const to = Math.min(24, Math.max(1, zoom.value * factor))
    const real = to / zoom.value
    shift.value =
      to === 1
        ? { x: 0, y: 0 }
        : {
            x: x - width.value / 2 - RIGHT_PX - real * (x - midX.value),
            y: y - height.value / 2 - DOWN_PX - real * (y - midY.value),
          }
    zoom.value = to
  }
  function whole(): void {
    zoom.value = 1
    shift.value = { x: 0, y: 0 }
  }
  watch(() => face.value?.id, whole)

  useResizeObserver(sheet, () => {
    width.value = sheet.value!.clientWidth
    height.value = sheet.value!.clientHeight
  })

  return { width, height, zoom, shift, mirrored, box, scale, X, Y, back, pathOf, square, grid, zoomAt, whole }
}
