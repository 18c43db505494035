import type { Schemas } from "../../api/types";
import type { Proof } from "./api";
import { count, duration } from "../../time/words";

const AFTER: Record<Schemas["HazardProof"]["hazard"], string> = {
  mishap: "a mishap",
  siteLoss: "the loss of the site",
  sabotage: "sabotage",
};

/** What was proved of the copies that go, in a few lines; the same for whoever asks and whoever approves. */
export function Proved({ proofs, copies }: { proofs: Proof[]; copies: number }) {
  const sum = (of: (p: Proof) => number) => proofs.reduce((all, p) => all + of(p), 0);
  const pieces = sum((p) => p.pieces);
  const whole = sum((p) => p.whole);
  const hazards = (Object.keys(AFTER) as (keyof typeof AFTER)[])
    .map((hazard) => {
      const kept = proofs.flatMap((p) => p.hazards.filter((h) => h.hazard === hazard));
      return { hazard, databases: kept.length, covered: kept.reduce((all, h) => all + h.coveredSeconds, 0) };
    })
    .filter((h) => h.databases > 0);
  return (
    <>
      <li>
        Every moment of retained reach stays restorable
        <span className="block text-note text-muted">
          {proofs.length === 1 ? "one database" : `${proofs.length} databases`}, {count(pieces)}{" "}
          {pieces === 1 ? "stretch" : "stretches"} of {duration(sum((p) => p.coveredSeconds))} in all,
          computed again without the {count(copies)} {copies === 1 ? "copy" : "copies"}
        </span>
      </li>
      {hazards.length > 0 && (
        <li data-testid="proof-hazards">
          The promised reach is kept from all stores together
          {hazards.map((h) => (
            <span key={h.hazard} className="block text-note text-muted">
              after {AFTER[h.hazard]}: {h.databases === 1 ? "one database" : `${h.databases} databases`},{" "}
              {duration(h.covered)}
            </span>
          ))}
        </li>
      )}
      <li>
        {whole === 1
          ? "The one needed data backup stays whole"
          : `All ${count(whole)} needed data backups stay whole`}
      </li>
      <li>No database loses its newest way back</li>
    </>
  );
}
