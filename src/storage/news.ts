import type { StoreNews } from './store.ts'

/** Carries news of the store between tabs, and within this one. */
export interface NewsChannel {
  tell(news: StoreNews): void
  listen(listener: (news: StoreNews) => void): () => void
}

export function openNews(name: string): NewsChannel {
  const listeners = new Set<(news: StoreNews) => void>()
  const channel = typeof BroadcastChannel === 'function' ? new BroadcastChannel(name) : null
  const hear = (news: StoreNews) => {
    for (const listener of [...listeners]) listener(news)
  }
  if (channel) channel.onmessage = ({ data }: MessageEvent<StoreNews>) => hear(data)
  // In Node an open channel would keep the process alive.
  ;(channel as { unref?: () => void } | null)?.unref?.()
  return {
    tell(news) {
      hear(news)
      channel?.postMessage(news)
    },
    listen(listener) {
      listeners.add(listener)
      return () => void listeners.delete(listener)
    },
  }
}
