/** Look plainly again, as on another station, or as at another project. */
import { useDividing } from './dividing'
import { useSelection } from './selection'
import { useTools } from './tools'
import { useViewport } from './viewport'

export function useLookAnew() {
  const [selection, dividing, viewport, tools] = [useSelection(), useDividing(), useViewport(), useTools()]
  /** Nothing cut away, picked or marked. */
  function plain(): void {
    viewport.plain()
    tools.stop()
  }
  /** Nothing chosen either. */
  function forget(): void {
    selection.forget()
    dividing.forget()
    viewport.forget()
    tools.stop()
  }
  return { plain, forget }
}
