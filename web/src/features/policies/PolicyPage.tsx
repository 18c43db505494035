import { useEffect } from "react";
import { Link, useParams } from "react-router";
import type { PolicyView } from "../../api/types";
import { usePolicies, usePolicy } from "./api";
import { date, longMoment, viewerZone } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { Closures } from "./Closures";
import { Consequence } from "./Consequence";
import { withWayOut } from "./document";
import { EditingContext, ReadValue } from "./editing";
import { PromiseSentence } from "./PromiseSentence";
import { PutInForceForm } from "./PutInForceForm";
import { DemandSentences, RetainSentences } from "./RetainSentences";
import { TakingSentences } from "./TakingSentences";
import { ScheduleSentences } from "./ScheduleSentences";
import { useEditor, type Editor } from "./useEditor";

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
  const editor = useEditor(policy);
  const takes = new Map((editor.replay.data?.takes ?? []).map((t) => [t.kind, t.seconds]));
  const zones = [...new Set(policy.followers.map((f) => f.zone))];
  return (
    <EditingContext value={editor.editing}>
      <div className="grid min-h-[calc(100vh-46px)] grid-cols-1 lg:grid-cols-2">
        <Sentences policy={policy} next={editor.next} changed={editor.changed} zones={zones} takes={takes} />
        <WhatItDoes policy={policy} editor={editor} />
      </div>
    </EditingContext>
  );
}

function Sentences(props: {
  policy: PolicyView;
  next: number;
  changed: boolean;
  zones: string[];
  takes: Map<"full" | "diff" | "incr" | "log" | "config", number>;
}) {
  const { policy, next, changed, zones, takes } = props;
  return (
    <main className="px-5 pt-4 pb-10">
      <h1 className="text-page">
        <ReadValue path="name" label="Name of the policy" read={(typed) => typed.trim()} say={String} />
      </h1>
      <p className="text-muted">
        <Standing policy={policy} next={next} changed={changed} /> ·{" "}
        <Link className="text-button" to={`/policies/${encodeURIComponent(policy.id)}/versions`}>
          versions
        </Link>{" "}
        ·{" "}
        <a
          className="text-button"
          href={`/api/out/slots.ics?policy=${encodeURIComponent(policy.id)}`}
          download={`${policy.id}-slots.ics`}
        >
          calendar
        </a>
      </p>
      <PromiseSentence />
      <ScheduleSentences zones={zones.length > 0 ? zones : [viewerZone]} takes={takes} />
      <Closures policy={policy} />
      <RetainSentences />
      <DemandSentences />
      <TakingSentences />
    </main>
  );
}

/** What the rules as they are written would have done, and will; and putting them in force. */
function WhatItDoes({ policy, editor }: { policy: PolicyView; editor: Editor }) {
  const { changed, replay, document, asking } = editor;
  return (
    <aside className="border-l border-line bg-panel px-5 pt-4 pb-10" aria-label="Consequence">
      <h2 className="text-section">{changed ? "If this becomes the rule" : "As it stands"}</h2>
      <p className="text-muted" aria-live="polite">
        how it has been, and how it will be if backups go on as they have gone
        {editor.working && " · working it out…"}
      </p>
      {policy.followers.length === 0 && (
        <TryOn own={policy.id} value={editor.tryOn} onChange={editor.setTryOn} />
      )}
      {replay.error && <ProblemNote error={replay.error} />}
      {replay.data?.bad && (
        <p role="alert" className="mt-2 border-l-[3px] border-coral pl-3">
          {replay.data.bad.path} {replay.data.bad.reason}.
        </p>
      )}
      {replay.data && (
        <div className={editor.stale ? "opacity-75" : ""}>
          <Consequence
            replay={replay.data}
            ahead={editor.ahead.data}
            document={document}
            names={editor.names}
            onTake={(way) => editor.change(withWayOut(document, way.path, way.to))}
          />
        </div>
      )}
      {editor.problem && <ProblemNote error={editor.problem} />}
      {editor.done && (
        <p role="status" className="mt-4 border-l-[3px] border-water-3 pl-3 font-semibold">
          {editor.done}
        </p>
      )}
      {changed && !asking && <EditorFoot editor={editor} />}
      {changed && asking && replay.data && (
        <PutInForceForm
          replay={replay.data}
          version={editor.next}
          planned={policy.versions.filter((v) => v.state === "coming")}
          followers={policy.followers}
          busy={editor.saying}
          onSay={editor.say}
          onCancel={() => editor.setAsking(false)}
        />
      )}
    </aside>
  );
}

function EditorFoot({ editor }: { editor: Editor }) {
  return (
    <div className="mt-4 flex flex-wrap items-center gap-3">
      <button
        className="ink-button"
        disabled={editor.stale || Boolean(editor.replay.data?.bad)}
        onClick={() => editor.setAsking(true)}
      >
        Put in force…
      </button>
      {editor.history.length > 1 && (
        <button className="outline-button" onClick={editor.undo}>
          Undo
        </button>
      )}
      {editor.base && (
        <button className="text-button" onClick={editor.discard}>
          Discard the draft
        </button>
      )}
      <span className="text-note text-muted">The draft is kept as you write; it is in force nowhere.</span>
    </div>
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
