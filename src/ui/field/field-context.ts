import { createContext, useContext } from 'react'
import { useStore } from 'zustand'
import type { Meadow } from '../../core/meadow.ts'
import type { Landscape } from '../../scene/landscape.ts'
import type { Dispatcher } from '../../tools/dispatcher.ts'
import type { FieldTool } from '../../state/field-tool.ts'
import type { FieldSession } from '../../state/field-session.ts'
import type { FieldState } from '../../state/field-state.ts'

export interface FieldContextValue {
  readonly session: FieldSession
  readonly landscape: Landscape | null
  /** Gives the picture's pointer to the tool in hand; null until there is a picture. */
  readonly dispatcher: Dispatcher | null
  readonly tool: FieldTool
  readonly setOpen: (planting: string | null) => void
  /** Opens the nursery at one of its assets. */
  readonly showInNursery: (asset: string) => void
}

export const FieldContext = createContext<FieldContextValue | null>(null)

export function useField(): FieldContextValue {
  const value = useContext(FieldContext)
  if (!value) throw new Error('useField: outside a field')
  return value
}

/** A part of the session's state. */
export function useFieldState<T>(pick: (state: FieldState) => T): T {
  return useStore(useField().session.store, pick)
}

/** The planting whose card is open. */
export function useOpen(): string | null {
  return useStore(useField().tool, (state) => state.open)
}

export function useMeadow(): Meadow {
  return useFieldState((state) => state.history.meadow)
}
