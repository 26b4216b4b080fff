import type { ReactNode } from 'react'
import { Component } from 'react'
import { logProblem } from '../../document/log.ts'
import { isLoadFailure } from '../../document/problem.ts'
import { Action } from './actions.tsx'

interface BoundaryProps {
  readonly children: ReactNode
  /** Hands out the work that is at stake, where there is any. */
  readonly onTakeOut?: () => void
}

/** Catches what breaks while a page is drawn and says so in words, with ways to go on; there is no white page. */
export class Boundary extends Component<BoundaryProps, { readonly error: unknown }> {
  override state: { readonly error: unknown } = { error: null }

  static getDerivedStateFromError(error: unknown) {
    return { error }
  }

  override componentDidCatch(error: unknown) {
    logProblem('Drawing the page', error)
  }

  override render() {
    const { error } = this.state
    if (error === null) return this.props.children
    const { onTakeOut } = this.props
    return (
      <main className="gate broken">
        <h1>{isLoadFailure(error) ? 'A part of the application could not be fetched' : 'This page broke'}</h1>
        <p className="warning-line" role="alert">
          {isLoadFailure(error)
            ? 'The network or the server is gone, or a newer version has taken the place of this one. What was saved in this browser is kept; try again when the connection is back.'
            : `Something went wrong that was not foreseen (${error instanceof Error ? error.message : String(error)}). What was saved in this browser is kept.`}
        </p>
        <p className="row">
          <Action main onClick={() => location.reload()}>
            Load the page again
          </Action>
          {onTakeOut && <Action onClick={onTakeOut}>Take the meadow out as a file</Action>}
          <a className="text-action" href="/">
            To the gate
          </a>
        </p>
      </main>
    )
  }
}
