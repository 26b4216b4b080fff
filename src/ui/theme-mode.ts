import { useSyncExternalStore } from 'react'

export type ThemeMode = 'light' | 'dusk'

const KEY = 'wayward-meadow/theme'
const listeners = new Set<() => void>()

function read(): ThemeMode {
  try {
    const kept = localStorage.getItem(KEY)
    if (kept === 'light' || kept === 'dusk') return kept
  } catch {
    // A browser that keeps nothing gets the theme of the system.
  }
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dusk' : 'light'
}

let mode: ThemeMode = 'light'

/** Takes the kept or the system's theme; to be called once before the first drawing. */
export function startTheme(): void {
  mode = read()
  show()
}

function show(): void {
  document.documentElement.classList.toggle('dark', mode === 'dusk')
  document.documentElement.style.colorScheme = mode === 'dusk' ? 'dark' : 'light'
}

export function toggleTheme(): void {
  mode = mode === 'dusk' ? 'light' : 'dusk'
  try {
    localStorage.setItem(KEY, mode)
  } catch {
    // It lasts as long as the tab then.
  }
  show()
  for (const listener of listeners) listener()
}

export function useTheme(): ThemeMode {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener)
      return () => listeners.delete(listener)
    },
    () => mode,
  )
}
