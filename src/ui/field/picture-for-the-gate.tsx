import { useEffect, useRef } from 'react'
import { useStore } from 'zustand'
import type { Landscape } from '../../scene/landscape.ts'
import type { FieldSession } from '../../state/field-session.ts'

interface GateProps {
  readonly session: FieldSession
  readonly landscape: Landscape | null
}

const PICTURE_AFTER = 3500
const INPUTS = ['pointermove', 'pointerdown', 'wheel', 'keydown'] as const

/** Keeps the gate's picture of the meadow fresh: when it has grown and nobody has touched anything for a while. */
export function PictureForTheGate({ session, landscape }: GateProps) {
  const growing = useStore(session.store, (state) => state.growing)
  const meadow = useStore(session.store, (state) => state.history.meadow)
  const taken = useRef<unknown>(null)
  useEffect(() => {
    if (growing || !landscape || taken.current === meadow) return
    const take = () => {
      stop()
      taken.current = meadow
      void landscape.picture(480, 300).then((picture) => {
        if (picture) void session.setPicture(picture).catch(() => undefined)
      })
    }
    let timer = setTimeout(take, PICTURE_AFTER)
    const again = () => {
      clearTimeout(timer)
      timer = setTimeout(take, PICTURE_AFTER)
    }
    const stop = () => {
      clearTimeout(timer)
      for (const input of INPUTS) removeEventListener(input, again, true)
    }
    for (const input of INPUTS) addEventListener(input, again, { capture: true, passive: true })
    return stop
  }, [growing, landscape, meadow, session])
  return null
}
