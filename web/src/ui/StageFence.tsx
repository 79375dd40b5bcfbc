import { Component, type ReactNode } from "react";
import { Button } from "./Button";

interface State {
  error: Error | null;
}

/** Keeps a fault in one stage to that stage: it says so and offers to draw it anew; the job itself is on the server. */
export class StageFence extends Component<{ what: string; children: ReactNode }, State> {
  override state: State = { error: null };

  static getDerivedStateFromError(error: Error): State {
    return { error };
  }

  override render() {
    if (this.state.error === null) return this.props.children;
    return (
      <div className="flex h-full flex-col items-center justify-center gap-2 p-6 text-center" role="alert">
        <p className="font-semibold text-wrong">{this.props.what} could not be drawn</p>
        <p>Nothing is lost: every edit is kept. Reload this stage, or go on in another.</p>
        <p className="figure max-w-[60ch] text-soft">{this.state.error.message}</p>
        <Button onClick={() => this.setState({ error: null })}>Reload this stage</Button>
      </div>
    );
  }
}
