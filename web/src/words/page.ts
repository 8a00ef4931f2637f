/**
 * Keeps a page in another language: every text and every name of a control that comes onto it is said anew before it is painted. Sources
 * stay plain English, and a server's sentence is treated like one of the screens. What makers called their things stands in elements with
 * `translate="no"` and stays.
 */
import type { Tell } from './telling'

const NAMES = [
  'title',
  'placeholder',
  'alt',
  'aria-label',
  'aria-description',
  'aria-roledescription',
  'aria-valuetext',
]
const SILENT = '[translate="no"], script, style, textarea'

/** Say a page, and all that changes on it from now on; gives what ends that. */
export function sayPage(page: Document, tell: Tell): () => void {
  const written = new WeakMap<Node, Map<string, string>>()

  /** Say one text of a node anew unless it is what was written there. */
  function say(node: Node, name: string, text: string | null, write: (text: string) => void): void {
    if (!text || written.get(node)?.get(name) === text) return
    const said = tell(text)
    if (said === text) return
    const own = written.get(node) ?? new Map<string, string>()
    written.set(node, own.set(name, said))
    write(said)
  }

  function sayText(node: Text): void {
    if (!node.parentElement?.closest(SILENT)) say(node, '', node.data, (text) => (node.data = text))
  }

  function sayNames(element: Element): void {
    if (element.closest('[translate="no"]')) return
    for (const name of NAMES)
      say(element, name, element.getAttribute(name), (text) => element.setAttribute(name, text))
  }

  function sayAll(root: Node): void {
    if (root.nodeType === Node.TEXT_NODE) return sayText(root as Text)
    if (root.nodeType !== Node.ELEMENT_NODE) return
    sayNames(root as Element)
    const within = page.createTreeWalker(root, NodeFilter.SHOW_ELEMENT | NodeFilter.SHOW_TEXT)
    for (let node = within.nextNode(); node; node = within.nextNode())
      if (node.nodeType === Node.TEXT_NODE) sayText(node as Text)
      else sayNames(node as Element)
  }

  const watching = new MutationObserver((changes) => {
    for (const change of changes)
      if (change.type === 'characterData') sayText(change.target as Text)
      else if (change.type === 'attributes') sayNames(change.target as Element)
      else change.addedNodes.forEach(sayAll)
  })
  sayAll(page.documentElement)
  watching.observe(page.documentElement, {
    subtree: true,
    childList: true,
    characterData: true,
    attributeFilter: NAMES,
  })
  return () => watching.disconnect()
}
