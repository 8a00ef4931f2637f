/** ↑ and ↓ lead from row to row of a list, the focus on what chooses the row. */
const ROWS = ':scope > li'
const CHOOSES = 'button, a[href], input[type=checkbox]'

/** Move the focus from a row to the one before or after it; whether the key was one that does. */
export function movedInList(event: KeyboardEvent): boolean {
  const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0
  const at = event.target
  if (
    !by ||
    !(at instanceof HTMLElement) ||
    at.matches('select, textarea, input:not([type=checkbox]), [role]')
  )
    return false
  const row = at.closest('li')
  const list = row?.parentElement
  if (!row || !list || event.defaultPrevented) return false
  const rows = [...list.querySelectorAll<HTMLElement>(ROWS)].filter((one) => one.style.display !== 'none')
  const next = rows[rows.indexOf(row) + by]
  const target = next?.tabIndex === 0 ? next : next?.querySelector<HTMLElement>(CHOOSES)
  target?.focus()
  event.preventDefault()
  return true
}
