import { useEffect, useState } from "react";
import { Link } from "react-router";
import { useMay } from "../../api/session";
import { count, date, longMoment, size, viewerZone } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { useCommand } from "../../ui/useCommand";
import { STATES } from "./Lists";
import {
  agree,
  said,
  useStanding,
  useTrial,
  withdraw,
  type StandingEntry,
  type StandingRow,
} from "./standing";
import { StandingForm } from "./StandingForm";
import { TrialView } from "./TrialView";

/** What goes by itself, policy by policy. */
export function StandingPurgesPage() {
  const { data, error } = useStanding();
  const [open, setOpen] = useState<string | null>(null);
  useEffect(() => {
    document.title = "Standing purges · Firth";
  }, []);
  if (error && !data) return <ProblemNote error={error} />;
  if (!data) return <main className="h-96 animate-pulse px-5 py-6" aria-busy />;
  return (
    <main className="px-5 pt-3 pb-10">
      <p className="text-note">
        <Link className="text-button" to="/purge">
          Purge
        </Link>
      </p>
      <h1 className="text-page leading-tight">Standing purges</h1>
      <p className="max-w-3xl text-muted">
        What no rule needs may go by itself, a little each night. One person proposes it, another puts it in
        force. Each night makes a list like any other: it is proved before and as it is handed out, agents
        delete by it, and it is kept in the record. What the newest proved restore was made from stays.
      </p>
      <div className="mt-3">
        {data.map((row) => (
          <Policy
            key={row.policy}
            row={row}
            open={open === row.policy}
            onOpen={(yes) => setOpen(yes ? row.policy : null)}
          />
        ))}
        {data.length === 0 && <p className="text-muted">No policy is in force yet.</p>}
      </div>
    </main>
  );
}

function Policy(props: { row: StandingRow; open: boolean; onOpen: (open: boolean) => void }) {
  const { row, open, onOpen } = props;
  const may = useMay("keeper");
  return (
    <section aria-label={row.name} className="border-t border-line py-2.5">
      <div className="flex items-baseline gap-x-4">
        <h2 className="w-56 shrink-0 font-semibold">
          <Link className="hover:underline" to={`/policies/${encodeURIComponent(row.policy)}`}>
            {row.name}
          </Link>
          <span className="block text-note font-normal text-muted">
            {row.followers === 1 ? "1 database" : `${count(row.followers)} databases`}
          </span>
        </h2>
        <div className="grow">
          {row.inForce ? <InForce entry={row.inForce} /> : <p className="text-muted">{nothing(row)}</p>}
          {row.proposed && <Waiting entry={row.proposed} />}
          <Nights row={row} />
        </div>
        {may && !open && row.approvals <= 1 && (
          <button className="outline-button shrink-0" onClick={() => onOpen(true)}>
            {row.inForce || row.proposed ? "Propose other terms" : "Propose one"}
          </button>
        )}
      </div>
      {open && <StandingForm row={row} onDone={() => onOpen(false)} />}
    </section>
  );
}

const nothing = (row: StandingRow) =>
  row.approvals > 1
    ? `Nothing goes by itself: the policy asks for ${row.approvals} approvals of each purge.`
    : "Nothing goes by itself.";

function InForce({ entry }: { entry: StandingEntry }) {
  const { run, pending, problem } = useCommand(["purge"]);
  return (
    <div>
      <p>{said(entry.terms)}</p>
      <p className="text-note text-muted">
        Proposed by {entry.by}, put in force by {entry.agreedBy}
        {entry.agreedAt && `, ${longMoment(entry.agreedAt, viewerZone)}`}: {entry.reason}{" "}
        {entry.may.includes("withdraw") && (
          <button className="text-button" disabled={pending} onClick={() => void run(() => withdraw(entry))}>
            Withdraw it
          </button>
        )}
      </p>
      {entry.flaw && <p className="text-coral-text">Nothing goes: {entry.flaw}.</p>}
      {problem && <ProblemNote error={problem} />}
    </div>
  );
}

/** One that waits for a second person, who sees what it would have done. */
function Waiting({ entry }: { entry: StandingEntry }) {
  const { run, pending, problem } = useCommand(["purge"]);
  const trial = useTrial(entry.terms);
  return (
    <div className="mt-1 border-l-[3px] border-ochre pl-3" data-testid="waiting">
      <p>
        <b>Waits for a second person.</b> {said(entry.terms)}
      </p>
      <p className="text-note text-muted">
        Proposed by {entry.by}, {longMoment(entry.at, viewerZone)}: {entry.reason}
      </p>
      {trial.isPending && <p className="text-muted">Going through the nights…</p>}
      {trial.error && <ProblemNote error={trial.error} />}
      {trial.data && <TrialView trial={trial.data} />}
      <div className="mt-2 flex gap-3">
        {entry.may.includes("agree") && (
          <button
            className="ink-button"
            disabled={pending || !trial.data}
            onClick={() => void run(() => agree(entry))}
          >
            Put it in force
          </button>
        )}
        {entry.may.includes("withdraw") && (
          <button className="text-button" disabled={pending} onClick={() => void run(() => withdraw(entry))}>
            Withdraw it
          </button>
        )}
      </div>
      {problem && <ProblemNote error={problem} />}
    </div>
  );
}

/** What became of the last nights. */
function Nights({ row }: { row: StandingRow }) {
  if (row.nights.length === 0) return null;
  return (
    <ul className="mt-1 text-small">
      {row.nights.slice(0, 7).map((n) => (
        <li key={n.date}>
          <span className="inline-block w-24 text-muted">{date(`${n.date}T12:00:00Z`, viewerZone)}</span>
          {n.purge ? (
            <>
              <Link className="text-button" to={`/purge/${n.purge}`}>
                {n.copies === 1 ? "1 copy" : `${count(n.copies)} copies`}, {size(n.bytes)}
              </Link>
              , {STATES[n.state as keyof typeof STATES]}
            </>
          ) : (
            n.said
          )}
        </li>
      ))}
    </ul>
  );
}
