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

/** Shows the hint of the control under the pointer or with the focus: one for the whole page, as hundreds would be slow. */
export function Hints() {
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
    const key = (event: KeyboardEvent) => {
      if (event.key === 'Escape') hide()
    }
    document.addEventListener('pointerover', over)
    document.addEventListener('pointerdown', hide)
    document.addEventListener('focusin', focus)
    document.addEventListener('focusout', hide)
    document.addEventListener('keydown', key)
    return () => {
      hide()
      document.removeEventListener('pointerover', over)
      document.removeEventListener('pointerdown', hide)
      document.removeEventListener('focusin', focus)
      document.removeEventListener('focusout', hide)
      document.removeEventListener('keydown', key)
    }
  }, [])

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
