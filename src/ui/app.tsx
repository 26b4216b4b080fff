import type { ReactNode } from 'react'
import { lazy, Suspense, useCallback } from 'react'
import { BrowserRouter, Route, Routes, useLocation, useNavigate } from 'react-router'
import { Gate } from './gate/gate.tsx'
import { Boundary } from './parts/boundary.tsx'
import { Hints } from './parts/hints.tsx'
import { Notices } from './parts/notices.tsx'

// The field brings three.js along; the gate must not wait for it.
const FieldPage = lazy(() => import('./field/field-page.tsx').then((m) => ({ default: m.FieldPage })))
const Guide = lazy(() => import('./guide/guide.tsx').then((m) => ({ default: m.Guide })))

export function App() {
  return (
    <BrowserRouter>
      <Suspense fallback={<p className="waiting">Opening…</p>}>
        <Routes>
          <Route path="/" element={<Page of={<Gate />} />} />
          <Route path="/field/:id/*" element={<Page of={<FieldPage />} />} />
          <Route path="/guide" element={<Page of={<Guide />} />} />
          <Route path="*" element={<Page of={<Gate />} />} />
        </Routes>
      </Suspense>
      <Notices />
      <HelpfulHints />
    </BrowserRouter>
  )
}

/** Hints, with the way from help on a control to the guide. */
function HelpfulHints() {
  const navigate = useNavigate()
  const { pathname } = useLocation()
  const field = /^\/field\/[^/]+/.exec(pathname)?.[0] ?? ''
  const onGuide = useCallback((page: string) => void navigate(`${field}/guide?page=${page}`), [navigate, field])
  return <Hints onGuide={onGuide} />
}

/** A page of the application; what breaks in it does not take the others along. */
function Page({ of }: { readonly of: ReactNode }) {
  const { pathname } = useLocation()
  return <Boundary key={pathname.split('/').slice(0, 3).join('/')}>{of}</Boundary>
}
