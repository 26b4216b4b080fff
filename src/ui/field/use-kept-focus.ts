import { useEffect } from 'react'

/** After a click or a key it is looked this much later whether the focus was lost, ms: menus and sheets close with a little delay. */
const LOOKS = [120, 500]

const OPEN = '[role="dialog"]:not([data-state="closed"]), [role="menu"]:not([data-state="closed"])'

/**
 * Keeps the focus in the field: where a press takes away what had it, and at the beginning, it goes to the open card, or
 * to the picture. Without that the next Tab would begin at the top of the page.
 */
export function useKeptFocus(): void {
  useEffect(() => {
    let timers: ReturnType<typeof setTimeout>[] = []
    const settle = () => {
      if (document.activeElement !== document.body && document.activeElement !== null) return
      // A sheet or a menu that opens takes the focus itself, and would close if it went elsewhere.
      if (document.querySelector(OPEN)) return
      const place = document.querySelector<HTMLElement>('.card.open .card-name') ?? document.querySelector<HTMLElement>('.picture')
      place?.focus({ preventScroll: true })
    }
    const later = (event: Event) => {
      for (const timer of timers) clearTimeout(timer)
      // A click beside all controls means to leave them.
      const left = () => event.type === 'click' && event.target instanceof Element && event.target.isConnected
      timers = LOOKS.map((after) => setTimeout(() => !left() && settle(), after))
    }
    timers = LOOKS.map((after) => setTimeout(settle, after))
    addEventListener('click', later, { capture: true })
    addEventListener('keydown', later, { capture: true })
    return () => {
      for (const timer of timers) clearTimeout(timer)
      removeEventListener('click', later, { capture: true })
      removeEventListener('keydown', later, { capture: true })
    }
  }, [])
}
