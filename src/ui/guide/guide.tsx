import { useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { GuidePage } from './pages.ts'
import { GUIDE_PAGES, searchGuide } from './pages.ts'

/** The guide as a page of its own. */
export function Guide() {
  const [search] = useSearchParams()
  return (
    <main className="guide">
      <p>
        <Link className="text-action" to="/">
          To the gate
        </Link>
      </p>
      <h1>Guide</h1>
      <GuideText key={search.get('page')} first={search.get('page') ?? undefined} />
    </main>
  )
}

interface GuideTextProps {
  /** The page that is open at first. */
  readonly first?: string
}

/** Short pages, found by their words. */
export function GuideText({ first }: GuideTextProps) {
  const [wanted, setWanted] = useState('')
  const [open, setOpen] = useState(first ?? GUIDE_PAGES[0].key)
  const found = searchGuide(wanted)
  const page = found.find(({ key }) => key === open) ?? found[0]
  return (
    <div className="guide-book">
      <nav aria-label="Pages of the guide">
        <input className="search" type="search" placeholder="Search the guide" aria-label="Search the guide" value={wanted} onChange={(event) => setWanted(event.target.value)} />
        <ul>
          {found.map(({ key, title }) => (
            <li key={key}>
              <button type="button" aria-current={page?.key === key ? 'page' : undefined} onClick={() => setOpen(key)}>
                {title}
              </button>
            </li>
          ))}
        </ul>
        {found.length === 0 && <p className="faded">No page has these words.</p>}
      </nav>
      {page && <PageText page={page} />}
    </div>
  )
}

function PageText({ page: { title, text, picture, rows } }: { readonly page: GuidePage }) {
  return (
    <article aria-live="polite">
      <h2>{title}</h2>
      {picture && <img src={`/pictures/guide/${picture}.jpg`} alt={`The demo, showing: ${title.toLowerCase()}`} width={640} height={400} loading="lazy" />}
      {text.map((paragraph) => (
        <p key={paragraph}>{paragraph}</p>
      ))}
      {rows && (
        <table>
          <tbody>
            {rows.map(([name, help]) => (
              <tr key={name + help}>
                <th scope="row">{name}</th>
                <td>{help}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </article>
  )
}
