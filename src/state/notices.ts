import { createStore } from 'zustand/vanilla'
import { tellProblem } from '../document/log.ts'

/** A sentence shown for a while, with at most one thing to do about it. */
export interface Notice {
  readonly id: number
  readonly kind: 'word' | 'warning'
  readonly sentence: string
  readonly action?: { readonly label: string; readonly run: () => void }
}

interface NoticeStore {
  readonly notices: readonly Notice[]
}

const store = createStore<NoticeStore>(() => ({ notices: [] }))
let nextId = 1
const STAYS = 12000

export const noticeStore = store

/** Shows a sentence; words go by themselves, warnings stay until they are read. */
export function notify(kind: Notice['kind'], sentence: string, action?: Notice['action']): void {
  const notice: Notice = { id: nextId++, kind, sentence, action }
  // The same sentence is not said twice at once.
  store.setState(({ notices }) => ({ notices: [...notices.filter((n) => n.sentence !== sentence).slice(-3), notice] }))
  if (kind === 'word') setTimeout(() => dismiss(notice.id), STAYS)
}

export function dismiss(id: number): void {
  store.setState(({ notices }) => ({ notices: notices.filter((notice) => notice.id !== id) }))
}

/** Runs something for the person and turns its failure into a warning; returns null then. */
export async function attempt<T>(doing: string, work: () => Promise<T>): Promise<T | null> {
  try {
    return await work()
  } catch (error) {
    notify('warning', tellProblem(error, doing))
    return null
  }
}
