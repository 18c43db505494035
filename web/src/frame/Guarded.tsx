import { Component, type ReactNode } from "react";
import { ProblemNote } from "../ui/ProblemNote";
import { Problem } from "../api/client";

type Props = { children: ReactNode };

/** Keeps what goes wrong in a view to that view: the frame around it stays, and says what to do. */
export class Guarded extends Component<Props, { wrong: boolean }> {
  override state = { wrong: false };

  static getDerivedStateFromError() {
    return { wrong: true };
  }

  override render() {
    if (!this.state.wrong) return this.props.children;
    return (
      <main className="px-5 py-8">
        <ProblemNote
          error={
            new Problem(
              "This view could not be shown.",
              "Nothing was changed, and every other view can be opened.",
              "Load the page anew; if that does not help, tell whoever runs Firth what you opened.",
            )
          }
        />
        <button className="outline-button mx-5" onClick={() => window.location.reload()}>
          Load it anew
        </button>
      </main>
    );
  }
}
