import { Problem } from "../api/client";

/** What went wrong, what is unharmed, and what to do. */
export function ProblemNote({ error }: { error: Error }) {
  const problem = error instanceof Problem ? error : Problem.of({ detail: error.message });
  return (
    <div role="alert" className="m-5 max-w-2xl border-l-4 border-coral bg-panel px-4 py-3">
      <p className="font-semibold">{problem.message}</p>
      <p className="text-muted">
        {problem.unharmed} {problem.remedy}
      </p>
    </div>
  );
}
