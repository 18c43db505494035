import { ProblemNote } from "./ProblemNote";

type Props = {
  /** What the form does. */
  text: string;
  /** What is still to be said before it can; shown. */
  missing?: (string | false)[];
  /** Whether it cannot for another reason that shows by itself. */
  disabled?: boolean;
  problem: Error | null;
  onCancel: () => void;
};

/** The end of a form: what went wrong, doing it, leaving it, and what is missing. */
export function FormFoot({ text, missing = [], disabled = false, problem, onCancel }: Props) {
  const lacking = missing.filter(Boolean);
  return (
    <>
      {problem && <ProblemNote error={problem} />}
      <div className="flex items-center gap-3">
        <button className="ink-button" disabled={disabled || lacking.length > 0}>
          {text}
        </button>
        <button type="button" className="text-button" onClick={onCancel}>
          Cancel
        </button>
        {lacking.length > 0 && <span className="text-note text-muted">Say {lacking.join(" and ")}.</span>}
      </div>
    </>
  );
}
