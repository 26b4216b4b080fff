import { Dialog, Portal } from '@chakra-ui/react'
import type { ReactNode } from 'react'

interface SheetProps {
  readonly title: string
  readonly onClose: () => void
  readonly children: ReactNode
  readonly foot: ReactNode
  readonly wide?: boolean
}

/** A sheet of paper laid over the page; Esc puts it away. */
export function Sheet({ title, onClose, children, foot, wide }: SheetProps) {
  return (
    <Dialog.Root open onOpenChange={({ open }) => !open && onClose()} size={wide ? 'lg' : 'md'} placement="center">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content className="sheet">
            <Dialog.Header>
              <Dialog.Title>{title}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>{children}</Dialog.Body>
            <Dialog.Footer>{foot}</Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
