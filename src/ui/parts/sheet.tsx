import { Dialog, Portal } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** Esc in a number that is being typed gives up the number, not the sheet. */
function keepWhileTyping(event: Pick<KeyboardEvent, 'target' | 'preventDefault'>): void {
  if (event.target instanceof Element && event.target.closest('.number-input')) event.preventDefault()
}

/** A sheet before this one gives the focus back a moment later than it goes: that is nobody's wish to put this one away. */
function keepOpen(event: Pick<Event, 'preventDefault'>): void {
  event.preventDefault()
}

interface SheetProps {
  readonly title: string
  readonly onClose: () => void
  readonly children: ReactNode
  readonly foot: ReactNode
  readonly wide?: boolean | 'most'
  /** Makes a form of it, taken by Enter in one of its lines or by a button that submits. */
  readonly onSubmit?: () => void
}

/** A sheet of paper laid over the page; Esc puts it away. */
export function Sheet({ title, onClose, children, foot, wide, onSubmit }: SheetProps) {
  const within = (
    <>
      <Dialog.Body>{children}</Dialog.Body>
      <Dialog.Footer>{foot}</Dialog.Footer>
    </>
  )
  return (
    <Dialog.Root open onOpenChange={({ open }) => !open && onClose()} onEscapeKeyDown={keepWhileTyping} onFocusOutside={keepOpen} size={wide === 'most' ? 'xl' : wide ? 'lg' : 'md'} placement="center">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content className="sheet">
            <Dialog.Header>
              <Dialog.Title>{title}</Dialog.Title>
            </Dialog.Header>
            {onSubmit ? (
              <form
                className="sheet-form"
                noValidate
                onSubmit={(event) => {
                  event.preventDefault()
                  onSubmit()
                }}
              >
                {within}
              </form>
            ) : (
              within
            )}
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
