import { createRouter, createWebHistory } from 'vue-router'
import Shelf from '@/shelf/Shelf.vue'
import { loadForms } from '@/ui/schema'

export const STATIONS = [
  { id: 'model', name: 'Model' },
  { id: 'whole-job', name: 'Whole job' },
  { id: 'divide', name: 'Divide' },
  { id: 'join', name: 'Join' },
  { id: 'check', name: 'Check' },
  { id: 'orient', name: 'Orient' },
  { id: 'batch', name: 'Batch' },
  { id: 'assemble', name: 'Assemble' },
  { id: 'log', name: 'Print log' },
] as const

export type StationId = (typeof STATIONS)[number]['id']
/** What a station is called; its id where there is none of it. */
export const stationName = (id: string): string => STATIONS.find((s) => s.id === id)?.name ?? id

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', component: Shelf },
    { path: '/workshop', component: () => import('@/workshop/WorkshopView.vue'), beforeEnter: loadForms },
    {
      path: '/projects/:id/:station(model|whole-job|divide|join|check|orient|batch|assemble|log)',
      name: 'station',
      component: () => import('@/stations/Bench.vue'),
      beforeEnter: loadForms,
    },
    { path: '/projects/:id', redirect: (to) => `/projects/${String(to.params['id'])}/model` },
    { path: '/:rest(.*)*', redirect: '/' },
  ],
})
router.onError(() => {
  document.getElementById('app')!.textContent = 'Hinoki does not answer. Start it, then load this page again.'
})
