import { useState } from "react";
import { beginRehearsal, NOTHING_LOST, useLosable } from "./api";
import { useMay } from "../../api/session";
import { viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { Labelled } from "../../ui/Labelled";
import { ProblemNote } from "../../ui/ProblemNote";
import { instantOf } from "../../time/typed";
import { MomentField } from "../../ui/Typed";

type Kind = "sites" | "stores" | "hosts";
const KINDS: [kind: Kind, text: string][] = [
  ["sites", "Sites"],
  ["stores", "Stores"],
  ["hosts", "Hosts"],
];

/** What is lost in a rehearsal, when, and how many restores run side by side. */
export function LosingForm({ onBegun }: { onBegun: (id: string) => void }) {
  const { data } = useLosable();
  const may = useMay("operator");
  const [chosen, setLost] = useState<Record<Kind, string[]> | null>(null);
  const [unlocked, setUnlocked] = useState(false);
  const [moment, setMoment] = useState("");
  const [beside, setBeside] = useState(String(NOTHING_LOST.sideBySide));
  const { run, pending, problem } = useCommand();
  if (!data) return null;
  // Until something is chosen: the site on which most depends.
  const [most] = [...data.sites].sort((a, b) => b.databases - a.databases);
  const lost = chosen ?? { sites: most ? [most.id] : [], stores: [], hosts: [] };
  const turn = (kind: Kind, id: string) =>
    setLost({
      ...lost,
      [kind]: lost[kind].includes(id) ? lost[kind].filter((x) => x !== id) : [...lost[kind], id],
    });
  const nothing = !unlocked && KINDS.every(([k]) => lost[k].length === 0);
  const number = Number(beside);
  const at = moment.trim() === "" ? null : instantOf(moment, viewerZone);
  const good = Number.isInteger(number) && number >= 1 && number <= 64 && at !== undefined;
  return (
    <form
      aria-label="What is lost"
      className="space-y-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (nothing || !good) return;
        void run(
          () =>
            beginRehearsal({
              ...NOTHING_LOST,
              ...lost,
              unlocked,
              moment: at ?? null,
              sideBySide: number,
            }),
          (begun) => onBegun(begun.id),
        );
      }}
    >
      <h2 className="text-[18px]">What is lost?</h2>
      {chosen === null && most && (
        <p className="text-muted">
          Most depends on {most.name}: {most.databases}{" "}
          {most.databases === 1 ? "database lives" : "databases live"} there.
        </p>
      )}
      {KINDS.map(([kind, text]) => (
        <fieldset key={kind}>
          <legend className="text-muted">{text}</legend>
          <div className={kind === "hosts" ? "grid grid-cols-2" : ""}>
            {data[kind].map((t) => (
              <label key={t.id} className="flex items-baseline gap-2 py-0.5">
                <input
                  type="checkbox"
                  checked={lost[kind].includes(t.id)}
                  onChange={() => turn(kind, t.id)}
                />
                {t.name}
              </label>
            ))}
          </div>
        </fieldset>
      ))}
      <label className="flex items-baseline gap-2">
        <input type="checkbox" checked={unlocked} onChange={(e) => setUnlocked(e.target.checked)} />
        everything that is not locked
      </label>
      <MomentField
        label="When, or empty for now"
        className="block"
        zone={viewerZone}
        value={moment}
        onChange={setMoment}
      />
      <Labelled label="Restores side by side" value={beside} onChange={setBeside} />
      {problem && <ProblemNote error={problem} />}
      {may && (
        <button className="ink-button" disabled={nothing || !good || pending}>
          Rehearse it
        </button>
      )}
    </form>
  );
}
