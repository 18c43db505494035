import type { Schemas } from "../../api/types";
import { asError } from "../../api/client";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { listSecret, removeList, tryList, useSending, type SendingView, type SendList } from "./api";
import { useMay } from "../../api/session";
import { longMoment, viewerZone } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { ListForm } from "./ListForm";
import { usePolicies } from "../policies/api";
import { about, blank, told } from "./say";

/** Who is told of what, by mail or as events, and what was sent. */
export function SendingPage() {
  const { data, error } = useSending();
  const may = useMay("planner");
  const queries = useQueryClient();
  const [editing, setEditing] = useState<SendList | null>(null);
  useEffect(() => {
    document.title = "Sending · Firth";
  }, []);
  if (error && !data) return <ProblemNote error={error} />;
  if (!data) return <main className="h-96 animate-pulse px-5 py-6" aria-busy />;
  const again = () => void queries.invalidateQueries({ queryKey: ["sending"] });
  return (
    <main className="px-5 pt-3 pb-10">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-page leading-tight">Sending</h1>
        <p className="text-muted">
          Who is told of what.{" "}
          {data.mail
            ? `Mail leaves as ${data.from}.`
            : "No mail server is configured (firth.mail.host): mail waits, and a finding says so."}
        </p>
        {may && !editing && (
          <button className="ink-button ml-auto" onClick={() => setEditing(blank(viewerZone))}>
            New list
          </button>
        )}
      </div>
      {editing && (
        <ListForm
          key={editing.id}
          list={editing}
          ranks={data.ranks}
          taken={data.lists.map((l) => l.id)}
          onClose={() => setEditing(null)}
          onDone={() => {
            setEditing(null);
            again();
          }}
        />
      )}
      {data.lists.length === 0 && !editing && (
        <p className="mt-3">Nobody is notified yet. A list says who is told, of which databases, and what.</p>
      )}
      <ul className="mt-2">
        {data.lists.map((l) => (
          <List key={l.id} list={l} may={may} onEdit={() => setEditing(l)} onChange={again} />
        ))}
      </ul>
      <Sent data={data} />
    </main>
  );
}

type ListProps = { list: SendList; may: boolean; onEdit: () => void; onChange: () => void };

function List({ list, may, onEdit, onChange }: ListProps) {
  const [said, setSaid] = useState("");
  const policies = usePolicies().data;
  const then = (done: Promise<string>) =>
    void done.then(setSaid, (p: unknown) => setSaid(asError(p).message));
  return (
    <li className="border-b border-line py-2" data-list={list.id}>
      <div className="flex flex-wrap items-baseline gap-x-4">
        <b>{list.name}</b>
        {!list.enabled && <span className="text-ochre-text">switched off</span>}
        <span className="text-muted">{[...list.mails, list.webhook].filter(Boolean).join(", ")}</span>
        {may && (
          <span className="ml-auto flex gap-3">
            <button
              className="text-button"
              onClick={() =>
                then(
                  tryList(list.id).then((t) =>
                    t.sent ? "Sent. Check that it arrives." : `Not sent: ${t.told}.`,
                  ),
                )
              }
            >
              Try it
            </button>
            {list.webhook && (
              <button
                className="text-button"
                onClick={() => then(listSecret(list.id).then((s) => `Signed with ${s}`))}
              >
                Show the secret
              </button>
            )}
            <button className="text-button" onClick={onEdit}>
              Change
            </button>
            <button className="text-button" onClick={() => void removeList(list.id).then(onChange)}>
              Remove
            </button>
          </span>
        )}
      </div>
      <p>
        Of {about(list, policies)}: {told(list)}
        {list.quietFrom && `; quiet from ${list.quietFrom} to ${list.quietTo}`}
        {(list.quietFrom || list.watchAt) && `, ${list.zone}`}.
      </p>
      {said && <p role="status">{said}</p>}
    </li>
  );
}

const STATES: Record<Schemas["Sent"]["state"], string> = {
  waiting: "waits",
  sending: "on its way",
  sent: "sent",
  failed: "not sent",
  unknown: "nobody knows",
};

function Sent({ data }: { data: SendingView }) {
  return (
    <section aria-label="Sent" className="mt-6">
      <h2 className="text-section">Sent</h2>
      {data.sent.length === 0 && <p className="text-muted">Nothing yet.</p>}
      <ul>
        {data.sent.map((m) => (
          <li key={m.id} className="flex flex-wrap gap-x-3 border-b border-line py-1">
            <span className="w-[150px] text-muted">{longMoment(m.made, viewerZone)}</span>
            <span className="w-[120px]">{m.list}</span>
            <span className={`w-[90px] ${m.state === "sent" ? "" : "font-semibold"}`}>{STATES[m.state]}</span>
            <span>{m.title}</span>
            {m.told && (
              <span className="text-coral-text">
                {m.told}
                {m.next && `; tried again ${longMoment(m.next, viewerZone)}`}
              </span>
            )}
            {!m.told && m.state === "waiting" && m.next && (
              <span className="text-muted">until {longMoment(m.next, viewerZone)}</span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
