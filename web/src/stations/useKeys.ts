/** Keys that work at every station: undo and redo, the number of a station, ↑ and ↓ in lists, and `?` for help. */
import { useEventListener } from '@vueuse/core'
import { ref, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { STATIONS } from '@/router'
import { useProject } from '@/stores/project'
import { movedInList } from '@/ui/listKeys'
import { isTyping } from '@/ui/typing'

/** Listens until the screen is left; gives whether the help is open. */
export function useKeys(): Ref<boolean> {
  const [route, router, project] = [useRoute(), useRouter(), useProject()]
  const helpOpen = ref(false)

  function pressed(event: KeyboardEvent): void {
    if (movedInList(event) || isTyping(event.target)) return
    const held = event.ctrlKey || event.metaKey
    if (!held && !event.altKey) alone(event)
    if (!held || event.key.toLowerCase() !== 'z') return
    event.preventDefault()
    void (event.shiftKey ? project.redo() : project.undo())
  }

  /** Signs and numbers by themselves; nothing behind an open dialog is moved. */
  function alone(event: KeyboardEvent): void {
    if (event.target instanceof HTMLSelectElement || document.querySelector('.v-overlay--active .dialog'))
      return
    const to = /^[1-9]$/.test(event.key) ? STATIONS[Number(event.key) - 1] : undefined
    if (event.key === '?') helpOpen.value = true
    else if (to) void router.push(`/projects/${String(route.params['id'])}/${to.id}`)
  }

  useEventListener(window, 'keydown', pressed)
  return helpOpen
}
