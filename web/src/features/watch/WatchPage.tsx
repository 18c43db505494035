import { useQueryClient } from "@tanstack/react-query";
import { Fragment, useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Finding, Watch } from "../../api/types";
import { callBack, useWatch } from "./api";
import { RibbonPatterns } from "../../ribbon/Ribbon";
import { along, useView } from "../../time/view";
import { useCommand } from "../../ui/useCommand";
import { Held } from "../../ui/Held";
import { ProblemNote } from "../../ui/ProblemNote";
import { useKeys } from "../../ui/useKeys";
import { StartForm } from "../runners/StartForm";
import { AcceptForm } from "./AcceptForm";
import { Aside } from "./Aside";
import { FindingEntry } from "./FindingEntry";
import { FindingWhy } from "./FindingWhy";
import { type Fold, FoldRow, isOf, useFolds, withUnfolded } from "./folds";
import { pathOf, startable } from "./finding";
import { useHaveLooked, useLooked } from "./looked";

/** The morning: what is wrong, worst first, with the way out of it; how the night went, what runs, what comes. */
export function WatchPage() {
  const view = useView();
  const looked = useLooked(view.asOf);
  const watch = useWatch(view.params, looked);
  const untold = useHaveLooked(view.asOf === null && watch.isSuccess);
  useEffect(() => {
    document.title = "Watch · Firth";
  }, []);
  if (watch.error) return <ProblemNote error={watch.error} />;
  if (!watch.data) return <Waiting />;
  return (
    <Held stale={watch.isPlaceholderData}>
      {untold && <ProblemNote error={untold} />}
      <Morning watch={watch.data} />
    </Held>
  );
}

function Waiting() {
  return (
    <main className="space-y-6 px-5 py-6" aria-busy>
      {Array.from({ length: 6 }, (_, i) => (
        <div key={i} className="h-14 max-w-[800px] bg-line/60" />
      ))}
    </main>
  );
}

/** In the order of the time that is left. */
const SECTIONS = [
  ["broken", "Broken now"],
  ["will-break", "Will break"],
  ["besides", "Besides"],
] as const;
const SECTION = "px-5 pt-3 pb-1 text-small font-semibold tracking-wide text-muted";

/** What was asked of a finding: why, to accept it, or to start the backup that would end it. */
type Opened = { what: "why" | "accept" | "start"; finding: Finding };

function OpenedBox({ opened, onClose }: { opened: Opened; onClose: () => void }) {
  const queries = useQueryClient();
  const { what, finding } = opened;
  if (what === "why") return <FindingWhy finding={finding} onClose={onClose} />;
  if (what === "start") {
    const database = finding.databases[0]?.id;
    return database ? <StartForm database={database} onClose={onClose} /> : null;
  }
  return (
    <AcceptForm
      finding={finding}
      onClose={onClose}
      onDone={() => {
        onClose();
        void queries.invalidateQueries({ queryKey: ["watch"] });
      }}
    />
  );
}

/**
 * The findings by how much time is left, those that were unfolded after the others of their kind; housekeeping counts among those one
 * steps through while it is unfolded.
 */
function sorted(watch: Watch, unfolded: Finding[], tidying: boolean) {
  const open = withUnfolded(
    watch.findings.filter((f) => !f.accepted),
    unfolded,
  );
  const accepted = watch.findings.filter((f) => f.accepted);
  const of = (urgency: string) => open.filter((f) => f.urgency === urgency);
  const housekeeping = of("housekeeping");
  const sections = SECTIONS.map(([urgency, title]) => ({ title, findings: of(urgency) })).filter(
    (s) => s.findings.length > 0,
  );
  const all = [...sections.flatMap((s) => s.findings), ...(tidying ? housekeeping : []), ...accepted];
  return { open, accepted, housekeeping, sections, all };
}

/** Goes from the chosen finding to one before or after it, which gets the focus. */
function step(
  list: HTMLElement | null,
  all: Finding[],
  chosen: string | null,
  by: number,
  choose: (key: string) => void,
) {
  const at = all.findIndex((f) => f.key === chosen);
  const next = all[Math.min(all.length - 1, Math.max(0, at + by))];
  if (!next) return;
  choose(next.key);
  list?.querySelector<HTMLElement>(`[data-finding="${CSS.escape(next.key)}"]`)?.focus();
}

/** The entries of a section; after the last that is shown of a kind of which there are more, how to see them. */
function Entries(props: {
  findings: Finding[];
  folds: Fold[];
  entry: (f: Finding) => React.JSX.Element;
  onMore: (fold: Fold) => void;
}) {
  const { findings, folds, entry, onMore } = props;
  return findings.map((f, i) => {
    const fold = folds.find((x) => isOf(f, x));
    const last = fold && !findings.slice(i + 1).some((other) => isOf(other, fold));
    const shown = fold ? findings.filter((other) => isOf(other, fold)).length : 0;
    return (
      <Fragment key={f.key}>
        {entry(f)}
        {last && shown < fold.shown + fold.more && <FoldRow fold={fold} shown={shown} onMore={onMore} />}
      </Fragment>
    );
  });
}

function NothingWrong({ databases }: { databases: number }) {
  return (
    <p className="mt-3 px-5 text-lead">
      {databases === 0
        ? "No databases yet: import a fleet file, or enrol one in Fleet."
        : `Nothing is wrong with the ${databases} databases, as far as is known.`}
    </p>
  );
}

function Morning({ watch }: { watch: Watch }) {
  const navigate = useNavigate();
  const { search, asOf } = useView();
  const today = asOf === null;
  const [tidying, setTidying] = useState(false);
  const { more, unfolded, unfold } = useFolds(watch);
  const { open, accepted, housekeeping, sections, all } = sorted(watch, unfolded, tidying);
  const [chosen, setChosen] = useState<string | null>(null);
  const [opened, setOpened] = useState<Opened | null>(null);
  const { run, problem } = useCommand(["watch"]);
  const list = useRef<HTMLDivElement>(null);
  const current = all.find((f) => f.key === chosen) ?? null;

  const move = (by: number) => step(list.current, all, chosen, by, setChosen);
  const go = (f: Finding) => void navigate(along(pathOf(f), search));
  useKeys({
    j: () => move(1),
    k: () => move(-1),
    a: () => today && current && !current.accepted && setOpened({ what: "accept", finding: current }),
    w: () => current && setOpened({ what: "why", finding: current }),
    s: () => today && current && startable(current) && setOpened({ what: "start", finding: current }),
  });
  const entry = (f: Finding) => (
    <FindingEntry
      key={f.key}
      finding={f}
      watch={watch}
      today={today}
      chosen={f.key === chosen}
      first={chosen === null && f.key === all[0]?.key}
      onChoose={() => setChosen(f.key)}
      onOpen={() => go(f)}
      onWhy={() => setOpened({ what: "why", finding: f })}
      onAccept={() => setOpened({ what: "accept", finding: f })}
      onStart={() => setOpened({ what: "start", finding: f })}
      onCallBack={(accepted) => void run(() => callBack(accepted))}
    />
  );

  return (
    <div className="grid min-h-[calc(100vh-102px)] grid-cols-1 lg:grid-cols-[minmax(0,1fr)_420px]">
      <RibbonPatterns />
      <main className="pt-2 pb-10" ref={list}>
        <div className="flex flex-wrap items-baseline gap-x-3 px-5">
          <h1 className="text-page">Watch</h1>
          <p className="text-muted">{heading(watch.counts)}</p>
          <Link className="text-button ml-auto" to={`/needs${search}`}>
            What needs a backup
          </Link>
        </div>
        {problem && <ProblemNote error={problem} />}
        {open.length === 0 && <NothingWrong databases={watch.databases} />}
        {sections.map((s) => (
          <section key={s.title} aria-label={s.title} className="mt-1">
            {sections.length > 1 && <h2 className={SECTION}>{s.title}</h2>}
            <Entries findings={s.findings} folds={more} entry={entry} onMore={unfold} />
          </section>
        ))}
        {housekeeping.length > 0 && (
          <Housekeeping tidying={tidying} setTidying={setTidying} count={watch.counts.housekeeping}>
            <Entries findings={housekeeping} folds={more} entry={entry} onMore={unfold} />
          </Housekeeping>
        )}
        {accepted.length > 0 && (
          <>
            <h2 className="mt-6 px-5 text-section">Accepted</h2>
            <div>{accepted.map(entry)}</div>
          </>
        )}
      </main>
      <Aside watch={watch} />
      {opened && <OpenedBox opened={opened} onClose={() => setOpened(null)} />}
    </div>
  );
}

function Housekeeping(props: {
  tidying: boolean;
  setTidying: (next: boolean) => void;
  count: number;
  children: React.ReactNode;
}) {
  const { tidying, setTidying, count, children } = props;
  return (
    <section aria-label="Housekeeping" className="mt-1">
      <h2 className={SECTION}>
        <button
          className="underline decoration-dotted"
          aria-expanded={tidying}
          onClick={() => setTidying(!tidying)}
        >
          Housekeeping, {count}
        </button>
      </h2>
      {tidying && children}
    </section>
  );
}

/** How many promises are broken, how many will be if nothing happens, and what somebody bears. */
export function heading({ broken, willBreak, accepted }: Watch["counts"]): string {
  const parts = [
    broken > 0 ? `${broken} broken now` : "",
    willBreak > 0 ? `${willBreak} will break` : "",
    broken + willBreak === 0 ? "No promise is broken or about to be" : "",
    accepted > 0 ? `${accepted} accepted` : "",
  ];
  return parts.filter(Boolean).join(" · ");
}
