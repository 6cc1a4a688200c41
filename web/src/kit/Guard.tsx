/** Holds what breaks off within it: the rest of the page stays, and there is a way on. */
import { Component, type ReactNode } from "react";
import { Notice } from "./Notice";

interface Props {
  /** What broke, as in "This step". */
  what: string;
  /** A new place: what broke elsewhere does not count there. */
  at?: string;
  children: ReactNode;
}
interface State {
  error: Error | null;
  at: string | undefined;
}

/** A piece of the program that the browser fetches only when it is needed, and did not get. */
const unfetched = (error: Error) =>
  /dynamically imported module|importing a module script|Failed to fetch|preload CSS/i.test(error.message);

export class Guard extends Component<Props, State> {
  override state: State = { error: null, at: this.props.at };

  static getDerivedStateFromError(error: unknown): Partial<State> {
    return { error: error instanceof Error ? error : new Error(String(error)) };
  }

  static getDerivedStateFromProps(props: Props, state: State): Partial<State> | null {
    return props.at === state.at ? null : { at: props.at, error: null };
  }

  override render() {
    const { error } = this.state;
    if (!error) return this.props.children;
    if (unfetched(error))
      return (
        <Notice
          title={`${this.props.what} could not be fetched`}
          actions={[{ says: "Load the page anew", main: true, run: () => window.location.reload() }]}
        >
          The program was renewed while this page stood open, or does not answer. What you changed is saved,
          or kept in this browser until it can be.
        </Notice>
      );
    return (
      <Notice
        title={`${this.props.what} has broken off`}
        actions={[
          { says: "Try again", main: true, run: () => this.setState({ error: null }) },
          { says: "Load the page anew", run: () => window.location.reload() },
        ]}
      >
        A fault of the program, not of your design; nothing is lost. In the program's words: {error.message}
      </Notice>
    );
  }
}
