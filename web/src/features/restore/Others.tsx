import type { RestorePlan } from "./api";
import { count, duration } from "../../time/words";

/** The ways that are not the best, and why. */
export function Others({ plan }: { plan: RestorePlan }) {
  return (
    <section aria-label="Second best" className="mt-4">
      <h2 className="text-section">Second best</h2>
      <ul>
        {plan.ways.slice(1).map((w) => (
          <li key={w.tip + w.lineage} className="flex gap-4 border-b border-line py-1">
            <span>
              {w.title}
              <span className="text-muted">: {w.why}</span>
            </span>
            <span
              className={`ml-auto font-semibold whitespace-nowrap ${
                plan.promised !== null && w.seconds > plan.promised ? "text-coral-text" : ""
              }`}
            >
              {w.secondsKnown ? duration(w.seconds) : "not known"}
            </span>
          </li>
        ))}
      </ul>
      {plan.more > 0 && <p className="mt-1 text-note text-muted">and {count(plan.more)} slower ones</p>}
    </section>
  );
}
