import { Button } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { hintOf } from './hints.tsx'

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
    <button
      type="button"
      className="icon-action"
      aria-label={label}
      aria-pressed={pressed}
      disabled={disabled}
      onClick={onClick}
      {...hintOf(label, keys)}
    >
      {children}
    </button>
  )
}

interface WordActionProps extends Omit<IconActionProps, 'children'> {
  /** What it says; the label says it in full. */
  readonly word: string
}

/** A small button with one word, a label for readers and a hint. */
export function WordAction({ label, word, keys, onClick, disabled, pressed }: WordActionProps) {
  return (
    <button type="button" className="word-action" aria-label={label} aria-pressed={pressed} disabled={disabled} onClick={onClick} {...hintOf(label, keys)}>
      {word}
    </button>
  )
}

interface ActionProps {
  /** Nothing where it submits the form that it is in. */
  readonly onClick?: () => void
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
