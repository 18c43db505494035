import { DialogBox } from "../../ui/DialogBox";
import { useState } from "react";
import type { Offer } from "../../api/types";
import { startBackup, useOffers } from "./api";
import { duration, size } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { FormFoot } from "../../ui/FormFoot";
import { ProblemNote } from "../../ui/ProblemNote";
import { kindName } from "../../ribbon/kinds";

const KEEP: [days: number, text: string][] = [
  [0, "as the policy says"],
  [30, "for 30 days at least"],
  [365, "for a year at least"],
];

/** A backup started now: which, what it costs and gives, who wants it and why. */
export function StartForm(props: { database: string; onClose: () => void }) {
  const { database, onClose } = props;
  const offers = useOffers(database);
  return (
    <DialogBox
      title={`Start a backup of ${offers.data?.name ?? database}`}
      width="w-[600px]"
      onClose={onClose}
    >
      {offers.error && <ProblemNote error={offers.error} />}
      {!offers.data && !offers.error && <p className="mt-3 text-muted">Working out what each would give…</p>}
      {offers.data && (
        <Choice
          database={database}
          offers={offers.data.offers}
          runner={offers.data.runner}
          onClose={onClose}
        />
      )}
    </DialogBox>
  );
}

function Choice(props: { database: string; offers: Offer[]; runner: string | null; onClose: () => void }) {
  const { database, offers, runner, onClose } = props;
  const [chosen, setChosen] = useState(0);
  const [reason, setReason] = useState("");
  const [name, setName] = useState("");
  const [keep, setKeep] = useState(0);
  const { run, pending, problem } = useCommand(["watch"]);
  const [ordered, setOrdered] = useState<string | null>(null);
  const missing = [!reason.trim() && "why it is wanted"].filter(Boolean);
  const field = "w-full rounded border border-line bg-panel px-2 py-1";
  const offer = offers[chosen];
  if (!offer)
    return (
      <p className="mt-3">
        Nothing says where a backup of it could go. Give it a route in Fleet, then it can be started here.
      </p>
    );
  if (ordered)
    return (
      <div role="status">
        <p className="mt-3">
          Ordered as <span className="font-mono text-[12px]">{ordered}</span>.{" "}
          {runner
            ? `The runner on ${runner} takes it up when it next asks; Watch shows it under Running now.`
            : "It waits until a runner of its host asks."}
        </p>
        <button className="ink-button mt-4" onClick={onClose}>
          Close
        </button>
      </div>
    );
  return (
    <form
      aria-label="Start a backup"
      className="mt-3 space-y-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (missing.length > 0) return;
        void run(
          () =>
            startBackup(database, {
              kind: offer.kind,
              store: offer.store,
              reason,
              name: name.trim() || null,
              keepUntil:
                keep === 0
                  ? null
                  : new Date(Date.now() + keep * 86_400_000).toISOString().replace(/\.\d+Z/, "Z"),
            }),
          (o) => setOrdered(o.run),
        );
      }}
    >
      {!runner && (
        <p className="text-ochre-text">
          No runner of its host has asked for work lately: nothing will take this up before one does.
        </p>
      )}
      <fieldset>
        <legend className="font-semibold">What</legend>
        {offers.map((o, i) => (
          <label key={o.kind + o.store} className="flex gap-2 border-t border-line py-1.5">
            <input
              type="radio"
              name="offer"
              className="mt-1 self-start"
              autoFocus={i === 0}
              checked={i === chosen}
              onChange={() => setChosen(i)}
            />
            <span>
              <b>
                {kindName(o.kind)} to {o.storeName}
              </b>
              , {o.seconds > 0 ? `about ${duration(o.seconds)}` : "how long is not known"}
              {o.bytes > 0 && `, ${size(o.bytes)}`}
              <span className="block text-muted">{o.gives}</span>
            </span>
          </label>
        ))}
      </fieldset>
      <label className="block">
        Why is it wanted?
        <input className={field} value={reason} onChange={(e) => setReason(e.target.value)} />
      </label>
      <label className="block">
        What do you call it?
        <input
          className={field}
          placeholder="a name, or nothing"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <label className="block">
        Keep it
        <select className={field} value={keep} onChange={(e) => setKeep(Number(e.target.value))}>
          {KEEP.map(([days, text]) => (
            <option key={days} value={days}>
              {text}
            </option>
          ))}
        </select>
      </label>
      <FormFoot text="Start it" missing={missing} disabled={pending} problem={problem} onCancel={onClose} />
    </form>
  );
}
