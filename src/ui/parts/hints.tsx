import { Portal, Tooltip } from '@chakra-ui/react'
import { useEffect, useMemo, useState } from 'react'

/** Milliseconds that the pointer rests on a control before its hint shows. */
const AFTER = 350

interface Hinted {
  readonly element: HTMLElement
  readonly text: string
  readonly keys: string | undefined
}

/** Attributes that give a control a hint: what it does, and its key. */
export function hintOf(text: string, keys?: string): Record<`data-${string}`, string | undefined> {
  return { 'data-hint': text, 'data-hint-keys': keys }
}

interface HintsProps {
  /** Opens a page of the guide. */
  readonly onGuide: (page: string) => void
}

/** What takes letters for itself. */
const TYPED_INTO = 'input:not([type="range"], [type="checkbox"], [type="radio"], [type="color"]), textarea, select, [contenteditable], [role="menu"]'

function isTypedInto(target: EventTarget | null): boolean {
  return target instanceof Element && target.closest(TYPED_INTO) !== null
}

/** What help is asked about: what has the focus, else what is under the pointer. */
function controlAt(): HTMLElement | null {
  const focused = document.activeElement
  if (focused instanceof HTMLElement && focused !== document.body && !focused.matches('.picture')) return focused
  const under = [...document.querySelectorAll<HTMLElement>(':hover')].at(-1)
  return under?.closest<HTMLElement>('button, a, input, select, [role="spinbutton"], [role="slider"], .param, .fold, .drawer, [data-guide]') ?? null
}

/** What a control says of itself: the help of its field, its hint, its title, or its name. */
function helpOf(control: HTMLElement): string {
  const label = control.closest('.param, .span-ends')?.closest('.param')?.querySelector<HTMLElement>('.param-label')
  const said = [label?.title, control.closest('.switch-row')?.getAttribute('title'), control.closest<HTMLElement>('[data-hint]')?.dataset.hint, control.title, control.closest<HTMLElement>('[title]')?.title].find(Boolean)
  return said ?? control.getAttribute('aria-label') ?? control.textContent?.trim().slice(0, 120) ?? ''
}

/** Shows the hint of the control under the pointer or with the focus: one for the whole page, as hundreds would be slow. */
export function Hints({ onGuide }: HintsProps) {
  const [hinted, setHinted] = useState<Hinted | null>(null)
  const [shown, setShown] = useState(false)

  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | null = null
    const hide = () => {
      if (timer) clearTimeout(timer)
      timer = null
      setShown(false)
    }
    const show = (target: EventTarget | null, after: number) => {
      hide()
      const element = target instanceof Element ? target.closest<HTMLElement>('[data-hint]') : null
      if (!element) return
      timer = setTimeout(() => {
        if (!element.isConnected) return
        setHinted({ element, text: element.dataset.hint ?? '', keys: element.dataset.hintKeys })
        setShown(true)
      }, after)
    }
    const over = (event: PointerEvent) => show(event.target, AFTER)
    const focus = ({ target }: FocusEvent) => {
      if (target instanceof Element && target.matches(':focus-visible')) show(target, 0)
    }
    let asked: HTMLElement | null = null
    const key = (event: KeyboardEvent) => {
      const wanted = event.key.toLowerCase() === 'h' && !event.ctrlKey && !event.metaKey && !event.altKey && !isTypedInto(event.target)
      if (!wanted) {
        if (event.key === 'Escape' || asked) hide()
        asked = null
        return
      }
      const at = controlAt()
      if (!at) return
      event.preventDefault()
      event.stopPropagation()
      const page = at.closest<HTMLElement>('[data-guide]')?.dataset.guide
      if (asked === at && page) {
        hide()
        asked = null
        return onGuide(page)
      }
      hide()
      asked = at
      setHinted({ element: at, text: `${helpOf(at)}${page ? ' Press H again for the guide.' : ''}`, keys: undefined })
      setShown(true)
    }
    document.addEventListener('pointerover', over)
    document.addEventListener('pointerdown', hide)
    document.addEventListener('focusin', focus)
    document.addEventListener('focusout', hide)
    document.addEventListener('keydown', key, { capture: true })
    return () => {
      hide()
      document.removeEventListener('pointerover', over)
      document.removeEventListener('pointerdown', hide)
      document.removeEventListener('focusin', focus)
      document.removeEventListener('focusout', hide)
      document.removeEventListener('keydown', key, { capture: true })
    }
  }, [onGuide])

  // In the page's own landmark, so that a reader of the screen meets the hint where its control is.
  const place = useMemo(() => ({ current: hinted?.element.closest<HTMLElement>('main, [role="dialog"]') ?? document.body }), [hinted])
  return (
    <Tooltip.Root
      open={shown}
      positioning={{ placement: 'bottom', getAnchorRect: () => hinted?.element.getBoundingClientRect() ?? null }}
    >
      <Portal container={place}>
        <Tooltip.Positioner>
          <Tooltip.Content className="hint">
            {hinted?.text}
            {hinted?.keys && <kbd>{hinted.keys}</kbd>}
          </Tooltip.Content>
        </Tooltip.Positioner>
      </Portal>
    </Tooltip.Root>
  )
}
