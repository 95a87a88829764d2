'use client'

import { Component, type ReactNode } from 'react'
import Button from '@mui/material/Button'
import { flushSave } from '@/state/project-store'

interface StepBoundaryProps {
  /** Shown again when it changes: an undo may have taken back what stopped the step. */
  readonly project: unknown
  readonly children: ReactNode
}
interface StepBoundaryState {
  readonly error: Error | null
  readonly project: unknown
}

/** Catches what a step throws, inside the bench: its header, its undo and the other steps stay. */
export class StepBoundary extends Component<StepBoundaryProps, StepBoundaryState> {
  override state: StepBoundaryState = { error: null, project: null }

  static getDerivedStateFromError(error: Error): Partial<StepBoundaryState> {
    return { error }
  }
  static getDerivedStateFromProps(
    { project }: StepBoundaryProps,
    state: StepBoundaryState,
  ): Partial<StepBoundaryState> | null {
    return project === state.project ? null : { error: null, project }
  }
  override componentDidCatch(): void {
    void flushSave()
  }
  override render(): ReactNode {
    const { error } = this.state
    if (!error) return this.props.children
    return (
      <div className="empty" role="alert">
        <h2 className="display">This step stopped</h2>
        <p>
          Something went wrong in the application ({error.message}). Your project is saved as it is. Undo
          above takes back the last change, and the other steps are open to you.
        </p>
        <Button variant="contained" onClick={() => this.setState({ error: null })}>
          Open it again
        </Button>
      </div>
    )
  }
}
