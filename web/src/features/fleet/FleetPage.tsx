import { useEffect, useState } from "react";
import { Link } from "react-router";
import { useFirst } from "../../api/stretch";
import type { FleetChoices, FleetRow, FleetView, ImportView } from "../../api/types";
import { everyOne, fleetOf, stateDatabases, useChoices, type FleetAsked } from "./api";
import { stateRecords } from "../intake/api";
import { count, longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { WordsField } from "../../ui/WordsField";
import { useAsked } from "../../ui/useAsked";
import { AssignBar } from "./AssignBar";
import { EnrolForm } from "./EnrolForm";
import { FleetTable } from "./FleetTable";
import { PasteTable, type PutBack } from "./PasteTable";

/** The fleet as a list to be kept: who needs somebody stands first. */
export function FleetPage() {
  const [params] = useAsked();
  const wanted = params.get("find") ?? "";
  const retired = params.get("retired") === "shown";
  const asked: FleetAsked = { words: wanted, retired: retired ? "yes" : "" };
  const fleet = useFirst(fleetOf(asked));
  const choices = useChoices();
  useEffect(() => {
    document.title = "Fleet · Firth";
  }, []);
  const error = fleet.error ?? choices.error;
  if (error) return <ProblemNote error={error} />;
  if (!fleet.data || !choices.data) return <main className="px-5 py-6 text-muted">…</main>;
  return <Fleet fleet={fleet.data} choices={choices.data} asked={asked} />;
}

type Open = { what: "enrol"; name: string } | { what: "edit"; id: string } | { what: "paste" } | null;

function Fleet(props: { fleet: FleetView; choices: FleetChoices; asked: FleetAsked }) {
  const { fleet, choices, asked } = props;
  const [, { ask: set }] = useAsked();
  const [open, setOpen] = useState<Open>(null);
  const { taken, report, problem, undo } = useTaking();
  const [chosen, setChosen] = useState<ReadonlyMap<string, FleetRow>>(new Map());
  const { run, problem: unread } = useCommand();
  const everything = fleet.found > 0 && chosen.size === fleet.found;
  const chooseAll = () =>
    everything
      ? setChosen(new Map())
      : void run(
          () => everyOne(asked),
          (rows) => setChosen(new Map(rows.map((r) => [r.id, r]))),
        );

  return (
    <main className="px-5 pt-4 pb-10">
      <FleetHead setOpen={setOpen} />
      {problem && <ProblemNote error={problem} />}
      {unread && <ProblemNote error={unread} />}
      {report && <Taken report={report} onUndo={undo} />}
      <Unenrolled fleet={fleet} onEnrol={(name) => setOpen({ what: "enrol", name })} />
      <FleetFilter asked={asked} set={set} fleet={fleet} chosen={chosen.size} />
      {chosen.size > 0 && (
        <AssignBar
          rows={[...chosen.values()]}
          fleet={choices}
          onState={(records, before) =>
            void taken(() => stateRecords(records), before && (() => stateRecords(before()))).then((good) => {
              if (good) setChosen(new Map());
            })
          }
        />
      )}
      <FleetTable
        first={fleet}
        asked={asked}
        choices={choices}
        everything={everything}
        chooseAll={chooseAll}
        chosen={chosen}
        setChosen={setChosen}
        onEdit={(id) => setOpen({ what: "edit", id })}
      />
      {fleet.found === 0 && (
        <p className="mt-4 text-muted">
          {fleet.databases === 0
            ? "Nobody is enrolled yet. Enrol one, paste a table, or drop a fleet file anywhere."
            : "Nothing matches all of these words."}
        </p>
      )}
      {open?.what === "paste" && (
        <PasteTable
          fleet={choices}
          onClose={() => setOpen(null)}
          onState={(table, back) =>
            taken(
              () => stateDatabases(table, false),
              () => putBack(back()),
            )
          }
        />
      )}
      {(open?.what === "enrol" || open?.what === "edit") && (
        <EnrolForm
          key={JSON.stringify(open)}
          id={open.what === "edit" ? open.id : null}
          name={open.what === "enrol" ? open.name : ""}
          fleet={choices}
          seen={fleet.unenrolled.find((u) => open.what === "enrol" && u.name === open.name)}
          onClose={() => setOpen(null)}
          onState={(records) => taken(() => stateDatabases(records, true))}
        />
      )}
    </main>
  );
}

/** What was there before is as it was again, and what was not is retired. */
async function putBack({ before, retired }: PutBack): Promise<ImportView> {
  const again = before.length > 0 ? await stateDatabases(before, true) : null;
  return retired.length > 0 || !again ? stateDatabases(retired, false) : again;
}

/** States something of databases, keeps what became of it, and puts it back. */
function useTaking() {
  const [report, setReport] = useState<ImportView | null>(null);
  const { run, problem, undo } = useCommand([]);
  const taken = async (stating: () => Promise<ImportView>, back?: () => Promise<ImportView>) => {
    const said: ImportView[] = [];
    const done = await run(
      stating,
      (r) => {
        setReport(r);
        said.push(r);
      },
      back,
    );
    return done && said.every((r) => r.rejectedLines === 0);
  };
  return { taken, report, problem, undo: undo && (() => void undo().then(() => setReport(null))) };
}

function FleetHead(props: { setOpen: (next: Open) => void }) {
  const { setOpen } = props;
  return (
    <div className="flex flex-wrap items-baseline gap-x-3">
      <h1 className="text-page">Fleet</h1>
      <p className="text-muted">Every database there is, and what it follows, as of now</p>
      <span className="ml-auto flex items-baseline gap-3">
        <button className="outline-button" onClick={() => setOpen({ what: "enrol", name: "" })}>
          Enrol one…
        </button>
        <button className="text-button" onClick={() => setOpen({ what: "paste" })}>
          Paste a table…
        </button>
        <Link className="text-button" to="/fleet/standing">
          Standing assignment
        </Link>
        <Link className="text-button" to="/fleet/places">
          Places
        </Link>
      </span>
    </div>
  );
}

function FleetFilter(props: {
  asked: FleetAsked;
  set: (name: string, value: string, otherwise?: string) => void;
  fleet: FleetView;
  chosen: number;
}) {
  const { asked, set, fleet, chosen } = props;
  return (
    <div className="mt-3 flex flex-wrap items-center gap-4">
      <WordsField
        label="Show those with"
        placeholder="Show those with (name, engine, site, label, policy)"
        initial={asked.words}
        className="w-[360px] py-1"
        onChange={(words) => set("find", words)}
      />
      <label className="flex items-center gap-1.5 text-muted">
        <input
          type="checkbox"
          checked={asked.retired === "yes"}
          onChange={(e) => set("retired", e.target.checked ? "shown" : "")}
        />
        retired ones too
      </label>
      <span className="text-muted">
        {count(fleet.found)} of {count(fleet.databases)}
        {chosen > 0 && ` · ${count(chosen)} chosen`}
      </span>
    </div>
  );
}

function Taken({ report, onUndo }: { report: ImportView; onUndo: (() => void) | null }) {
  return (
    <p role="status" className="mt-2 border-l-[3px] border-water-3 pl-3">
      {report.added} added, {report.updated} changed
      {report.assigned > 0 && `, ${report.assigned} given a policy by the standing rules`}.{" "}
      {onUndo && (
        <button className="text-button" onClick={onUndo}>
          Undo
        </button>
      )}
      {report.rejected.map((r) => (
        <span key={r.line} className="block text-coral-text">
          Line {r.line}: {r.field} {r.reason}.
        </span>
      ))}
    </p>
  );
}

function Unenrolled({ fleet, onEnrol }: { fleet: FleetView; onEnrol: (name: string) => void }) {
  if (fleet.unenrolledAll === 0) return null;
  return (
    <section className="mt-3 border-l-[3px] border-coral pl-3" aria-label="Nobody enrolled these">
      <h2 className="text-section">
        {fleet.unenrolledAll === 1
          ? "One database nobody enrolled"
          : `${count(fleet.unenrolledAll)} databases nobody enrolled`}
        {fleet.unenrolledAll > fleet.unenrolled.length && `, of which ${fleet.unenrolled.length} are`}
      </h2>
      <ul>
        {fleet.unenrolled.map((u) => (
          <li key={u.name}>
            <b>{u.name}</b>
            {u.seen
              ? ` was seen on ${u.seen.host || "a host"} on ${longMoment(u.seen.at, viewerZone)}${
                  u.engine ? `, ${u.engine}` : ""
                }. Nothing says how much of it may be lost.`
              : " is known only from records of its backups."}{" "}
            {u.near && (
              <span className="text-ochre-text">
                <b>{u.near}</b> is enrolled: is it the same, written differently?{" "}
              </span>
            )}
            <button className="text-button" onClick={() => onEnrol(u.name)}>
              Enrol it…
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
