import { useEffect, useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import type { PolicyView, WrittenDocument } from "../../api/types";
import { useDraft } from "./useDraft";
import { putInForce, useAhead, usePolicies, usePolicy, useReplay } from "./api";
import { date, longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { Closures } from "./Closures";
import { Consequence } from "./Consequence";
import { emptyPolicy, saysTheSame, withValue, withWayOut } from "./document";
import { EditingContext, ReadValue, type Editing } from "./editing";
import { PromiseSentence } from "./PromiseSentence";
import { PutInForceForm, type Saying } from "./PutInForceForm";
import { DemandSentences, RetainSentences } from "./RetainSentences";
import { ScheduleSentences } from "./ScheduleSentences";
import { useSettled } from "./useSettled";

/** One policy, read aloud and changed where it stands, with what the change does beside it. */
export function PolicyPage() {
  const { id = "" } = useParams();
  const policy = usePolicy(id);
  useEffect(() => {
    document.title = `${policy.data?.name ?? id} · Firth`;
  }, [policy.data?.name, id]);
  if (policy.error) return <ProblemNote error={policy.error} />;
  if (!policy.data) return <main className="px-5 py-6 text-muted">…</main>;
  return <Editor key={id} policy={policy.data} />;
}

function Editor({ policy }: { policy: PolicyView }) {
  const inForce = policy.versions.find((v) => v.state === "in-force") ?? null;
  const base: WrittenDocument | null = inForce?.document ?? null;
  const fresh = policy.draft?.document ?? base ?? emptyPolicy(policy.id, policy.name);
  const [history, setHistory] = useState<WrittenDocument[]>([fresh]);
  const document = history[history.length - 1] as WrittenDocument;
  const drafting = useDraft(policy.id);
  const forcing = useCommand([]);
  const problem = forcing.problem ?? drafting.problem;
  const [asking, setAsking] = useState(false);
  const [done, setDone] = useState<string | null>(null);
  const changed = base === null || !saysTheSame(base, document);
  const settled = useSettled(document, 250);
  const [tryOn, setTryOn] = useState<string | undefined>(undefined);
  const replay = useReplay(policy.id, settled, tryOn);
  const ahead = useAhead(policy.id, settled, tryOn, replay.isSuccess && !replay.isPlaceholderData);
  const next = Math.max(0, ...policy.versions.map((v) => v.version)) + 1;
  const names: [string | null, string] = [
    tryOn ? "as it is" : changed && inForce ? `version ${inForce.version}` : null,
    changed || !inForce ? `version ${next}` : `version ${inForce.version}`,
  ];

  const write = (to: WrittenDocument, then: WrittenDocument[]) => {
    setHistory(then);
    setDone(null);
    drafting.keep(base && saysTheSame(base, to) ? null : to);
  };
  const change = (to: WrittenDocument) => write(to, [...history, to]);
  const undo = () => {
    const then = history.slice(0, -1);
    write(then[then.length - 1] as WrittenDocument, then);
  };
  const discard = () => {
    if (base) write(base, [...history, base]);
  };
  const say = (saying: Saying) => {
    void forcing.run(
      () => putInForce(policy.id, document, saying),
      (version) => {
        setAsking(false);
        setDone(
          version.state === "coming"
            ? `Version ${version.version} comes into force on ${longMoment(version.effectiveFrom, viewerZone)}.`
            : `Version ${version.version} is in force.`,
        );
      },
    );
  };

  const editing: Editing = useMemo(
    () => ({
      document,
      base,
      set: (path, value) => change(withValue(document, path, value)),
      flaws: replay.data?.flaws ?? [],
      bad: replay.data?.bad ?? null,
    }),
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [document, base, replay.data],
  );
  const takes = new Map((replay.data?.takes ?? []).map((t) => [t.kind, t.seconds]));
  const zones = [...new Set(policy.followers.map((f) => f.zone))];
  const stale = replay.isPlaceholderData || settled !== document;
  const working = stale || ahead.isPlaceholderData;

  return (
    <EditingContext value={editing}>
      <div className="grid min-h-[calc(100vh-46px)] grid-cols-1 lg:grid-cols-2">
        <main className="px-5 pt-4 pb-10">
          <h1 className="text-[26px]">
            <ReadValue path="name" label="Name of the policy" read={(typed) => typed.trim()} say={String} />
          </h1>
          <p className="text-muted">
            <Standing policy={policy} next={next} changed={changed} /> ·{" "}
            <Link className="text-button" to={`/policies/${encodeURIComponent(policy.id)}/versions`}>
              versions
            </Link>
          </p>
          <PromiseSentence />
          <ScheduleSentences zones={zones.length > 0 ? zones : [viewerZone]} takes={takes} />
          <Closures policy={policy} />
          <RetainSentences />
          <DemandSentences />
        </main>
        <aside className="border-l border-line bg-panel px-5 pt-4 pb-10" aria-label="Consequence">
          <h2 className="text-[20px]">{changed ? "If this had been the rule" : "As it stands"}</h2>
          <p className="text-muted" aria-live="polite">
            replayed over the last 30 days, then run forward 60
            {working && " · working it out…"}
          </p>
          {policy.followers.length === 0 && <TryOn own={policy.id} value={tryOn} onChange={setTryOn} />}
          {replay.error && <ProblemNote error={replay.error} />}
          {replay.data?.bad && (
            <p role="alert" className="mt-2 border-l-[3px] border-coral pl-3">
              {replay.data.bad.path} {replay.data.bad.reason}.
            </p>
          )}
          {replay.data && (
            <div className={stale ? "opacity-75" : ""}>
              <Consequence
                replay={replay.data}
                ahead={ahead.data}
                document={document}
                names={names}
                onTake={(way) => change(withWayOut(document, way.path, way.to))}
              />
            </div>
          )}
          {problem && <ProblemNote error={problem} />}
          {done && (
            <p role="status" className="mt-4 border-l-[3px] border-water-3 pl-3 font-semibold">
              {done}
            </p>
          )}
          {changed && !asking && (
            <div className="mt-4 flex flex-wrap items-center gap-3">
              <button
                className="ink-button"
                disabled={stale || Boolean(replay.data?.bad)}
                onClick={() => setAsking(true)}
              >
                Put in force…
              </button>
              {history.length > 1 && (
                <button className="outline-button" onClick={undo}>
                  Undo
                </button>
              )}
              {base && (
                <button className="text-button" onClick={discard}>
                  Discard the draft
                </button>
              )}
              <span className="text-[12px] text-muted">
                The draft is kept as you write; it is in force nowhere.
              </span>
            </div>
          )}
          {changed && asking && replay.data && (
            <PutInForceForm
              replay={replay.data}
              version={next}
              followers={policy.followers}
              busy={forcing.pending}
              onSay={say}
              onCancel={() => setAsking(false)}
            />
          )}
        </aside>
      </div>
    </EditingContext>
  );
}

/** A policy nobody follows yet can be tried on those who follow another. */
function TryOn(props: {
  own: string;
  value: string | undefined;
  onChange: (policy: string | undefined) => void;
}) {
  const policies = usePolicies();
  const others = (policies.data ?? []).filter((p) => p.id !== props.own && p.followers > 0);
  return (
    <label className="mt-1 flex items-center gap-1.5">
      Try it on
      <select
        className="rounded border border-line bg-panel px-1.5 py-0.5"
        value={props.value ?? ""}
        onChange={(e) => props.onChange(e.target.value || undefined)}
      >
        <option value="">nobody</option>
        {others.map((p) => (
          <option key={p.id} value={p.id}>
            those who follow {p.name}
          </option>
        ))}
      </select>
    </label>
  );
}

function Standing({ policy, next, changed }: { policy: PolicyView; next: number; changed: boolean }) {
  const inForce = policy.versions.find((v) => v.state === "in-force");
  const coming = policy.versions.find((v) => v.state === "coming");
  const n = policy.followers.length;
  return (
    <>
      {n === 0 ? "followed by nobody" : n === 1 ? "1 database" : `${n} databases`}
      {inForce
        ? ` · version ${inForce.version} in force since ${date(inForce.effectiveFrom, viewerZone)}`
        : " · never in force"}
      {coming && ` · version ${coming.version} from ${longMoment(coming.effectiveFrom, viewerZone)}`}
      {changed && ` · you are editing version ${next}`}
    </>
  );
}
