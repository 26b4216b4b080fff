import { lazy, Suspense } from 'react'
import { BrowserRouter, Route, Routes } from 'react-router'
import { Gate } from './gate/gate.tsx'
import { Notices } from './parts/notices.tsx'

// The field brings three.js along; the gate must not wait for it.
const FieldPage = lazy(() => import('./field/field-page.tsx').then((m) => ({ default: m.FieldPage })))
const Guide = lazy(() => import('./guide.tsx').then((m) => ({ default: m.Guide })))

export function App() {
  return (
    <BrowserRouter>
      <Suspense fallback={<p className="waiting">Opening…</p>}>
        <Routes>
          <Route path="/" element={<Gate />} />
          <Route path="/field/:id/*" element={<FieldPage />} />
          <Route path="/guide" element={<Guide />} />
          <Route path="*" element={<Gate />} />
        </Routes>
      </Suspense>
      <Notices />
    </BrowserRouter>
  )
}
