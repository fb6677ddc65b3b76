import { Component, type ReactNode } from 'react'
import { Words } from '../ui/Words'

/** Keeps a fault of the page from leaving it blank. */
export class Boundary extends Component<{ children: ReactNode }, { fault: Error | null }> {
  state = { fault: null as Error | null }

  static getDerivedStateFromError(fault: Error) {
    return { fault }
  }

  render() {
    const { fault } = this.state
    return fault ? (
      <Words title="This page has stopped" text={`Reload it; every step that was kept is still there. (${fault.message})`} />
    ) : (
      this.props.children
    )
  }
}
