/** The project's parts: which there are, which is open, where they stand. */
import { defineStore } from 'pinia'
import { computed } from 'vue'
import type { Plan, Schemas } from '@/api/client'
import { useProject } from './project'
import { useSelection } from './selection'
import { useViewport } from './viewport'

export type PartView = Schemas['PartView']
export type Instance = Schemas['Instance']

/** Whether a finding is told at Parts: parts in each other, and those that cannot be made. */
export const aboutParts = (finding: { code: string }): boolean =>
  ['parts-overlap', 'not-made', 'spring-shut', 'spring-stress', 'web-strain', 'web-short'].includes(
    finding.code,
  )

export const useParts = defineStore('parts', () => {
  const project = useProject()
  const selection = useSelection()
  const viewport = useViewport()
  const parts = computed<PartView[]>(() => project.build?.parts ?? [])
  const open = computed(() => parts.value.find((p) => p.open) ?? null)
  const instances = computed<Instance[]>(() => project.plan?.instances ?? [])
  /** how many bodies of parts stand in the project */
  const standing = computed(() => parts.value.reduce((n, p) => n + p.count, 0))
  const findings = computed(() => project.findings.filter(aboutParts))
  /** every instance of every part, by what it is called */
  const everyone = computed(() =>
    parts.value.flatMap((p) =>
      p.matrices.map((_, k) => ({
        part: p.id,
        instance: k,
        name: p.count > 1 ? `${p.name}, ${k + 1} of ${p.count}` : p.name,
      })),
    ),
  )

  /** The part that a key of the whole project belongs to. */
  const of = (key: string): PartView | undefined => {
    const id = /^(q\d+) /.exec(key)?.[1] ?? 'q1'
    return parts.value.find((p) => p.id === id)
  }

  async function work(part: string): Promise<void> {
    if (part === project.plan?.part_id) return
    selection.piece = selection.face = selection.parting = null
    viewport.plain()
    await project.command('open-part', { part })
  }
  const rename = (name: string): Promise<boolean> =>
    project.edit(`Named the part ${name}`.slice(0, 120), (plan) => (plan.part_name = name.trim()))
  const place = (label: string, change: (instances: Instance[]) => Instance[]): Promise<boolean> =>
    project.edit(label, (plan: Plan) => {
      plan.instances = change(plan.instances ?? []) as Plan['instances']
    })
  /** Take a part out that is not open. */
  const drop = (part: PartView): Promise<boolean> =>
    project.edit(`Took out ${part.name}`.slice(0, 120), (plan) => {
      plan.parts = plan.parts?.filter((p) => p.id !== part.id)
    })

  return { parts, open, instances, standing, findings, everyone, of, work, rename, place, drop }
})
