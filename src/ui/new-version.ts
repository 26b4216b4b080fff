import { registerSW } from 'virtual:pwa-register'
import { notify } from '../state/notices.ts'

/** Has the browser keep the whole application, and says quietly when a newer one is there; never reloads by itself. */
export function keepForOffline(): void {
  const update = registerSW({
    onNeedRefresh() {
      notify('warning', 'A new version of Wayward Meadow is here. It is used from the next time on that the page is opened.', {
        label: 'Use it now',
        run: () => void update(true),
      })
    },
  })
}
