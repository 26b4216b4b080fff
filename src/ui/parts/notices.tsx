import { X } from 'lucide-react'
import { useStore } from 'zustand'
import { dismiss, noticeStore } from '../../state/notices.ts'
import { IconAction } from './actions.tsx'

/** Sentences that come and go at the foot of the page. */
export function Notices() {
  const notices = useStore(noticeStore, (state) => state.notices)
  return (
    <div className="notices" role="status" aria-live="polite">
      {notices.map((notice) => (
        <div key={notice.id} className={`notice ${notice.kind}`}>
          <span>{notice.sentence}</span>
          {notice.action && (
            <button
              type="button"
              className="text-action"
              onClick={() => {
                notice.action?.run()
                dismiss(notice.id)
              }}
            >
              {notice.action.label}
            </button>
          )}
          <IconAction label="Put this away" onClick={() => dismiss(notice.id)}>
            <X />
          </IconAction>
        </div>
      ))}
    </div>
  )
}
