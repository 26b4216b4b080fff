import { Action } from '../parts/actions.tsx'
import { Sheet } from '../parts/sheet.tsx'

interface LeaveSheetProps {
  readonly name: string
  readonly onStay: () => void
  readonly onTakeOut: () => void
  readonly onLeave: () => void
}

/** Asked before a meadow is left whose last changes are kept nowhere. */
export function LeaveSheet({ name, onStay, onTakeOut, onLeave }: LeaveSheetProps) {
  return (
    <Sheet
      title="Leave without keeping it?"
      onClose={onStay}
      foot={
        <>
          <Action onClick={onLeave}>Leave all the same</Action>
          <Action onClick={onTakeOut}>Take it out as a file</Action>
          <Action main onClick={onStay}>
            Stay
          </Action>
        </>
      }
    >
      <p>
        What you see of <em>{name}</em> is not in the browser’s store. If you leave now, the last changes are lost; a file keeps all of it.
      </p>
    </Sheet>
  )
}
