import { useEffect } from 'react'

/**
 * Undo and redo by the usual keys, wherever the focus is. Only a field that
 * is being typed into keeps them to itself.
 */
export function useUndoKeys(undo: () => void, redo: () => void) {
  useEffect(() => {
    function pressed(e: KeyboardEvent) {
      if (!(e.ctrlKey || e.metaKey) || e.altKey || isTyping(e.target)) return
      const key = e.key.toLowerCase()
      const act = key === 'z' ? (e.shiftKey ? redo : undo) : key === 'y' && !e.shiftKey ? redo : null
      if (!act) return
      e.preventDefault()
      act()
    }
    document.addEventListener('keydown', pressed)
    return () => document.removeEventListener('keydown', pressed)
  }, [undo, redo])
}

/** Whether a field holds text that is not settled yet, which has an undo of its own. */
function isTyping(target: EventTarget | null): boolean {
  if (target instanceof HTMLTextAreaElement) return true
  if (!(target instanceof HTMLInputElement)) return false
  if (target.dataset.measure !== undefined) return target.dataset.measure === 'typing'
  return !['checkbox', 'radio', 'range', 'button', 'file'].includes(target.type)
}
