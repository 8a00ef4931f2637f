/** The workshop: printers, materials, fits, money. */
import { useQuery } from '@tanstack/vue-query'
import { defineStore } from 'pinia'
import { computed } from 'vue'
import { queries } from '@/api/queries'
import { api, got, type Answer, type Material, type Printer, type Schemas, type Workshop } from '@/api/client'
import { useTypedNames } from '@/words/typedNames'

export type FitName = Schemas['FitEntry']['fit']
export const FITS: FitName[] = ['press', 'snug', 'sliding', 'loose']
const COMMON: Record<FitName, number> = { press: 0.05, snug: 0.1, sliding: 0.2, loose: 0.3 }

export const useWorkshop = defineStore('workshop', () => {
  const query = useQuery({
    queryKey: ['workshop'],
    enabled: false,
    shallow: true,
    queryFn: async () => got<Workshop>(await api.GET('/api/workshop')),
  })
  const all = computed<Workshop | null>(() => query.data.value ?? null)
  useTypedNames(() => [all.value?.printers, all.value?.materials])
  const printers = computed<Printer[]>(() => all.value?.printers ?? [])
  const materials = computed<Material[]>(() => all.value?.materials ?? [])

  async function load(): Promise<void> {
    const found = await query.refetch()
    if (found.error) throw found.error
  }
  const took = (answer: Answer): void => void queries.setQueryData(['workshop'], got<Workshop>(answer))

  const entry = (printer: string, material: string, fit: FitName) =>
    all.value?.fits?.find((f) => f.printer_id === printer && f.material_id === material && f.fit === fit) ??
    null
  const clearance = (printer: string, material: string, fit: FitName): number =>
    entry(printer, material, fit)?.clearance_mm ?? COMMON[fit]
  /** The four clearances of a printer with a material. */
  const fitsFor = (printer: string, material: string): Record<FitName, number> =>
    Object.fromEntries(FITS.map((fit) => [fit, clearance(printer, material, fit)])) as Record<FitName, number>

  const keepPrinter = async (body: Printer) =>
    took(await api.PUT('/api/workshop/printers/{item}', { params: { path: { item: body.id! } }, body }))
  const dropPrinter = async (item: string) =>
    took(await api.DELETE('/api/workshop/printers/{item}', { params: { path: { item } } }))
  const keepMaterial = async (body: Material) =>
    took(await api.PUT('/api/workshop/materials/{item}', { params: { path: { item: body.id! } }, body }))
  const dropMaterial = async (item: string) =>
    took(await api.DELETE('/api/workshop/materials/{item}', { params: { path: { item } } }))
  const keepFit = async (
    printer: string,
    material: string,
    fit: FitName,
    value: number | null,
    note = '',
    origin: 'typed' | 'pieces' = 'typed',
  ) =>
    took(
      await api.PUT('/api/workshop/fits/{printer}/{material}/{fit}', {
        params: { path: { printer, material, fit } },
        body: { clearance_mm: value, note, origin },
      }),
    )
  const keepSettings = async (body: Schemas['Settings']) =>
    took(await api.PUT('/api/workshop/settings', { body }))
  const keepOwnSize = async (body: Schemas['OwnSize']) =>
    took(await api.PUT('/api/workshop/own-sizes/{item}', { params: { path: { item: body.id } }, body }))
  const dropOwnSize = async (item: string) =>
    took(await api.DELETE('/api/workshop/own-sizes/{item}', { params: { path: { item } } }))
  const keepStock = async (body: Schemas['StockItem']) => took(await api.PUT('/api/workshop/stock', { body }))
  const takeIn = async (body: Record<string, unknown>) =>
    took(await api.POST('/api/workshop/import', { body }))

  /** the currency that costs are told in */
  const currency = computed(() => all.value?.settings?.currency ?? '€')

  return {
    all,
    currency,
    printers,
    materials,
    load,
    entry,
    clearance,
    fitsFor,
    keepPrinter,
    dropPrinter,
    keepMaterial,
    dropMaterial,
    keepFit,
    keepSettings,
    keepOwnSize,
    dropOwnSize,
    keepStock,
    takeIn,
  }
})

/** A name for a copy that nothing else has. */
export function freeId(wanted: string, taken: readonly (string | undefined)[]): string {
  const plain =
    wanted
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '') || 'item'
  let id = plain
  for (let n = 2; taken.includes(id); n++) id = `${plain}-${n}`
  return id
}
