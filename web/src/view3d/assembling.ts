/** Where units stand while an assembly is played or spread, and how they are drawn. */
import { Matrix4, Vector3 } from 'three'
import { pigment } from '@/api/format'
import type { Assembly, AssemblyStep, AssemblyUnit } from '@/stores/assembly'
import type { BodySpec } from './stage'

const TONES: Record<string, string> = { loose: '#8f5b34', steel: '#6f7a80', wire: '#3c4a3a' }
const OVERLAP = '#b3321f'
const PALE = 0.3

/** What is shown of an assembly: the step, how far it is, or all moved apart. */
export interface Played {
  step: AssemblyStep | null
  share: number
  apart: number
  seeThrough: boolean
  chosen: string | null
}

/** The bodies that are shown: those of the step and of what is there, or all where they are moved apart. */
export function assemblyBodies(view: Assembly, played: Played): BodySpec[] {
  const { step } = played
  const all = played.apart > 0 || !step
  const moving = new Set(step?.units)
  const shown = all ? null : new Set([...(step.units ?? []), ...(step.into ?? [])])
  const through = played.seeThrough || (!all && played.share < 1 && step.see_through)
  const bodies = (view.units ?? []).flatMap((unit) => {
    if (shown && !shown.has(unit.id)) return []
    const pale = played.chosen ? unit.id !== played.chosen : through && !(step && moving.has(unit.id))
    return bodiesOf(unit, pale ? PALE : 1, unit.id === played.chosen)
  })
  const overlap = step?.meets?.overlap
  if (!all && overlap)
    bodies.push({ ...plain(`overlap ${overlap}`, overlap, OVERLAP), patch: true, through: true })
  return bodies
}

const plain = (id: string, mesh: string, colour: string): BodySpec => ({
  id,
  number: null,
  mesh,
  colour,
  solidity: 1,
  chosen: false,
  matrix: new Matrix4(),
})

function bodiesOf(unit: AssemblyUnit, solidity: number, chosen: boolean): BodySpec[] {
  return unit.bodies.map((body, k) => {
    const number = unit.numbers[k] ?? unit.numbers[0] ?? null
    const colour = number === null ? TONES[body.tone]! : pigment(number)
    return { ...plain(bodyId(unit.id, k), body.mesh, colour), number, solidity, chosen }
  })
}
export const bodyId = (unit: string, k = 0): string => `unit ${unit} ${k}`

/** Matrices of all bodies now. */
export function assemblyMatrices(view: Assembly, played: Played): Map<string, Matrix4> {
  const out = new Map<string, Matrix4>()
  const set = (unit: AssemblyUnit | undefined, matrix: Matrix4) =>
    unit?.bodies.forEach((_, k) => out.set(bodyId(unit.id, k), matrix))
  const units = new Map((view.units ?? []).map((u) => [u.id, u]))
  if (played.apart > 0 || !played.step) {
    const away = spreads(view, played.apart)
    for (const unit of view.units ?? [])
      set(unit, new Matrix4().setPosition(away.get(unit.id) ?? new Vector3()))
    return out
  }
  const still = new Matrix4()
  for (const id of played.step.into ?? []) set(units.get(id), still)
  const now = motionMatrix(played.step, played.share)
  for (const id of played.step.units) set(units.get(id), now)
  return out
}

/** How far every unit is from its place when all is spread by steps: by all moves that it takes part in, seen from what it goes onto. */
export function spreads(view: Assembly, apart: number): Map<string, Vector3> {
  const out = new Map<string, Vector3>()
  for (const step of view.steps ?? []) {
    const way = step.motion.direction
    if (!way) continue
    const gone = new Vector3(...way).multiplyScalar(-step.apart_mm * apart)
    if (step.onto) gone.add(out.get(step.onto) ?? new Vector3())
    for (const id of step.units) out.set(id, (out.get(id) ?? new Vector3()).add(gone))
  }
  return out
}

/** Where what a step moves is at a share of its way: its true path, from where it is clear to its place. */
export function motionMatrix(step: AssemblyStep, share: number): Matrix4 {
  const motion = step.motion
  if (!motion.direction || share >= 1) return new Matrix4()
  const way = new Vector3(...motion.direction)
  const left = 1 - Math.max(0, share)
  if ((motion.kind === 'screw' || motion.kind === 'turn') && motion.axis && motion.at && motion.turns) {
    const screw = motion.screw_mm ?? 0
    const straight = Math.max(0, step.apart_mm - screw)
    // the first part of the time straight down, the rest turning in
    const turning = Math.min(1, left / 0.7)
    const away = Math.max(0, (left - 0.7) / 0.3) * straight
    return new Matrix4()
      .setPosition(way.clone().multiplyScalar(-(away + turning * screw)))
      .multiply(about(motion.at, motion.axis, -motion.turns * 2 * Math.PI * turning))
  }
  if (motion.kind === 'swing' && motion.axis && motion.at) {
    const open = Math.min(1, left / 0.5)
    const away = Math.max(0, (left - 0.5) / 0.5) * step.apart_mm
    return new Matrix4()
      .setPosition(way.clone().multiplyScalar(-away))
      .multiply(about(motion.at, motion.axis, ((motion.swing_deg ?? 0) * Math.PI * open) / 180))
  }
  const legs = motion.legs ?? []
  if (motion.kind === 'two slides' && legs.length === 2) {
    const [first, last] = [legs[0]!, legs[1]!]
    const begin = Math.max(first[1], step.apart_mm)
    const whole = begin + last[1]
    const gone = left * whole
    const inLast = Math.min(last[1], gone)
    const inFirst = Math.max(0, gone - last[1])
    return new Matrix4().setPosition(
      new Vector3(...last[0]).multiplyScalar(-inLast).add(new Vector3(...first[0]).multiplyScalar(-inFirst)),
    )
  }
  return new Matrix4().setPosition(way.multiplyScalar(-step.apart_mm * left))
}

function about(at: readonly number[], axis: readonly number[], angle: number): Matrix4 {
  const [x, y, z] = at as [number, number, number]
  return new Matrix4()
    .makeTranslation(x, y, z)
    .multiply(new Matrix4().makeRotationAxis(new Vector3(...(axis as [number, number, number])), angle))
    .multiply(new Matrix4().makeTranslation(-x, -y, -z))
}
