import { useEffect, useState, type ReactNode } from "react";
import { Link } from "react-router";
import { useMay } from "../../api/session";
import { viewerZone } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { useChoices, stateDatabases } from "../fleet/api";
import { EnrolForm } from "../fleet/EnrolForm";
import { usePlaces, type PlacesView } from "../places/api";
import { SiteForm } from "../places/SiteForm";
import { StoreForm } from "../places/StoreForm";
import { useCommand } from "../../ui/useCommand";
import { useBegun } from "./api";
import { FirstPolicyForm } from "./FirstPolicyForm";
import { FirstRoute } from "./FirstRoute";
import { nextStep, STEPS, taken, type StepName } from "./steps";

/** From an empty install to a database with its answers, step by step; it goes on where one left it. */
export function BeginPage() {
  const places = usePlaces();
  const begun = useBegun();
  const may = useMay("planner");
  useEffect(() => {
    document.title = "First steps · Firth";
  }, []);
  const error = places.error ?? begun.error;
  if (error) return <ProblemNote error={error} />;
  if (!places.data || !begun.data) return <main className="px-5 py-6 text-muted">…</main>;
  const done = taken({ places: places.data, ...begun.data });
  return (
    <main className="max-w-[860px] px-5 pt-4 pb-10">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h1 className="text-page">First steps</h1>
        <p className="text-muted">From nothing to what can be restored</p>
        <Link className="text-button ml-auto" to="/watch">
          Leave for now
        </Link>
      </div>
      {!may && <p className="mt-3">Planners take these steps; ask an administrator for that role.</p>}
      <Steps done={done} places={places.data} may={may} />
    </main>
  );
}

const TITLES: Record<StepName, string> = {
  site: "A site",
  store: "A store",
  route: "A route",
  policy: "A policy",
  database: "A database",
  backups: "Its backups",
  cover: "What can be restored",
};

const ABOUT: Record<StepName, string> = {
  site: "Where the databases and their backups stand, and what may be lost at one blow: a building, a data hall, a region.",
  store:
    "Where backups lie: a directory, a bucket, a tape library. A second one at another site lets copies survive the loss of the first.",
  route: "Which store backups go to, and where they are copied.",
  policy: "How much may be lost, when backups run and what is retained. Every value can be changed later.",
  database: "What it is called, where it runs, and which policy and route it follows.",
  backups:
    "If they are taken already, drop their history anywhere on a page: a fleet file, or a table with any columns. If Firth is to take them, a program on the database's host does: it is given a token under People, where what starts it is shown.",
  cover: "To when each database can be restored, and what stands against it.",
};

type Props = { done: Record<StepName, string[]>; places: PlacesView; may: boolean };

function Steps({ done, places, may }: Props) {
  const next = nextStep(done);
  const [opened, setOpened] = useState<StepName | null>(null);
  const open = opened ?? next;
  return (
    <ol className="mt-3">
      {STEPS.map((step, n) => (
        <li
          key={step}
          data-step={step}
          aria-current={step === next ? "step" : undefined}
          className="mt-2 border-t border-line pt-2"
        >
          <div className="flex flex-wrap items-baseline gap-x-3">
            <h2 className="text-section">
              {n + 1}. {TITLES[step]}
            </h2>
            {done[step].length > 0 && (
              <span className="text-water-text">✓ {done[step].slice(0, 4).join(", ")}</span>
            )}
            {step !== open && (
              <button
                className="text-button ml-auto"
                aria-label={`Open: ${TITLES[step]}`}
                onClick={() => setOpened(step === next ? null : step)}
              >
                {done[step].length > 0 ? "Another…" : "Open"}
              </button>
            )}
          </div>
          {step === open && (
            <>
              <p className="mt-1 text-muted">{ABOUT[step]}</p>
              {may && <Step step={step} places={places} onDone={() => setOpened(null)} />}
            </>
          )}
        </li>
      ))}
    </ol>
  );
}

function Step({ step, places, onDone }: { step: StepName; places: PlacesView; onDone: () => void }) {
  switch (step) {
    case "site":
      return (
        <Opening text="Add a site…" onDone={onDone}>
          {(close) => <SiteForm site={null} onClose={close} />}
        </Opening>
      );
    case "store":
      return (
        <Opening text="Add a store…" onDone={onDone}>
          {(close) => <StoreForm store={null} sites={places.sites} onClose={close} />}
        </Opening>
      );
    case "route":
      return <FirstRoute places={places} onDone={onDone} />;
    case "policy":
      return <FirstPolicyForm onDone={onDone} />;
    case "database":
      return (
        <Opening text="Enrol a database…" onDone={onDone}>
          {(close) => <Enrolling places={places} onClose={close} />}
        </Opening>
      );
    case "backups":
      return (
        <p className="mt-2">
          <Link className="outline-button" to="/people">
            Give a program a token
          </Link>
        </p>
      );
    case "cover":
      return (
        <p className="mt-2">
          <Link className="outline-button" to="/cover?asOf=now">
            Look at Cover
          </Link>
        </p>
      );
  }
}

/** A form that is opened by a button. */
function Opening(props: { text: string; onDone: () => void; children: (close: () => void) => ReactNode }) {
  const { text, onDone, children } = props;
  const [open, setOpen] = useState(false);
  const close = () => {
    setOpen(false);
    onDone();
  };
  return (
    <div className="mt-2">
      <button className="ink-button" onClick={() => setOpen(true)}>
        {text}
      </button>
      {open && children(close)}
    </div>
  );
}

/** Enrolling where there is one site, route and policy to choose fills them in. */
function Enrolling({ places, onClose }: { places: PlacesView; onClose: () => void }) {
  const choices = useChoices();
  const { run, problem } = useCommand([]);
  if (choices.error) return <ProblemNote error={choices.error} />;
  if (!choices.data) return null;
  const only = (all: { id: string }[]) => (all.length === 1 ? (all[0] as { id: string }).id : "");
  return (
    <>
      {problem && <ProblemNote error={problem} />}
      <EnrolForm
        id={null}
        name=""
        first={{
          site: only(places.sites.filter((s) => !s.retired)),
          route: only(choices.data.routes),
          policy: only(choices.data.policies),
          zone: viewerZone,
        }}
        fleet={choices.data}
        seen={undefined}
        onClose={onClose}
        onState={(records) =>
          run(
            () => stateDatabases(records, true),
            (report) => {
              const bad = report.rejected[0];
              if (bad) throw new Error(`${bad.field} ${bad.reason}.`);
            },
          )
        }
      />
    </>
  );
}
