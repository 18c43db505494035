import type { Schemas } from "../../api/types";
import { duration, longMoment, viewerZone } from "../../time/words";

const IN: Record<string, string> = {
  attainment: "time within objective",
  "site-loss": "the objective for the site",
  sabotage: "the objective for sabotage",
  reach: "reach",
  slots: "slots kept",
};

/** Those who will fare worse under the rules as written. */
export function Worse({ worse }: { worse: Schemas["Worse"][] }) {
  if (worse.length === 0) return null;
  return (
    <div className="mt-3 border-l-[3px] border-ochre pl-3" data-testid="worse">
      <p className="font-semibold">
        {worse.length === 1 ? "One database will fare worse." : `${worse.length} databases will fare worse.`}
      </p>
      <ul>
        {worse.map((w) => (
          <li key={w.database}>
            <b>{w.name}</b>: {w.in.map((i) => IN[i] ?? i).join(", ")}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** How much is lost: time where it is any, else the number of moments that stand alone. */
function much(l: Schemas["Lost"]): string {
  if (l.seconds >= 1) return duration(l.seconds);
  return l.pieces === 1 ? "one moment" : `${l.pieces} moments`;
}

/** What can be restored now and could not any more. */
export function Lost({ lost }: { lost: Schemas["Lost"][] }) {
  if (lost.length === 0) return null;
  const promised = lost.some((l) => l.promisedSeconds >= 1);
  return (
    <div className="mt-3 border-l-[3px] border-coral pl-3" data-testid="lost">
      <p className="font-semibold">Can be restored today, and could not any more:</p>
      <ul>
        {lost.map((l) => (
          <li key={l.database}>
            <b>{l.name}</b>: {much(l)} from {longMoment(l.from, viewerZone)} to {longMoment(l.to, viewerZone)}
            {l.promisedSeconds >= 1 && `, ${duration(l.promisedSeconds)} of it promised`}
          </li>
        ))}
      </ul>
      {promised && (
        <p className="text-note text-muted">
          A purge here keeps back what is promised for as long as it is; whoever else deletes by these rules
          does not.
        </p>
      )}
    </div>
  );
}

/** Those of whom it is too early to tell. */
export function TooNew({ names }: { names: string[] }) {
  if (names.length === 0) return null;
  return (
    <p className="mt-3 text-muted" data-testid="too-new">
      Too new to tell, and left out of the days to come: {names.join(", ")}.
    </p>
  );
}
