import { Button, IconButton, Portal, Tooltip } from '@chakra-ui/react'
import type { ReactElement, ReactNode } from 'react'

interface HintProps {
  readonly text: string
  readonly keys?: string
  readonly children: ReactElement
}

/** What a control does and its key, on hover and focus. */
export function Hint({ text, keys, children }: HintProps) {
  return (
    <Tooltip.Root openDelay={350} closeDelay={80} positioning={{ placement: 'bottom' }}>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Portal>
        <Tooltip.Positioner>
          <Tooltip.Content className="hint">
            {text}
            {keys && <kbd>{keys}</kbd>}
          </Tooltip.Content>
        </Tooltip.Positioner>
      </Portal>
    </Tooltip.Root>
  )
}

interface IconActionProps {
  readonly label: string
  readonly keys?: string
  readonly onClick: () => void
  readonly disabled?: boolean
  readonly pressed?: boolean
  readonly children: ReactNode
}

/** A small button with a picture, a label for readers and a hint. */
export function IconAction({ label, keys, onClick, disabled, pressed, children }: IconActionProps) {
  return (
    <Hint text={label} keys={keys}>
      <IconButton
        className="icon-action"
        aria-label={label}
        aria-pressed={pressed}
        variant="ghost"
        size="xs"
        disabled={disabled}
        onClick={onClick}
      >
        {children}
      </IconButton>
    </Hint>
  )
}

interface ActionProps {
  readonly onClick: () => void
  readonly children: ReactNode
  readonly main?: boolean
  readonly disabled?: boolean
  readonly type?: 'button' | 'submit'
}

/** A button with words; `main` is the one thing to do next. */
export function Action({ onClick, children, main, disabled, type = 'button' }: ActionProps) {
  return (
    <Button
      type={type}
      className={main ? 'action main' : 'action'}
      size="sm"
      variant="outline"
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </Button>
  )
}

/** Runs something once a menu has closed and given the focus back, so that a field it opens keeps it. */
export function afterMenu(work: () => void): void {
  setTimeout(work, 80)
}
