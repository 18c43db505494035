import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { PolicyView, VersionView, WrittenDocument } from "../../api/types";
import { useForm } from "react-hook-form";
import { useMay } from "../../api/session";
import { keepDraft, usePolicy, withdraw } from "./api";
import { date, longMoment, time, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { Choice } from "../../ui/Choice";
import { Form } from "../../ui/Form";
import { ProblemNote } from "../../ui/ProblemNote";
import { TextOf } from "../../ui/fields";
import { sideBySide } from "./sentences";

type Said = { key: string; title: string; document: WrittenDocument };

function choices(policy: PolicyView): Said[] {
  const draft: Said[] = policy.draft
    ? [{ key: "draft", title: "the draft", document: policy.draft.document }]
    : [];
  return [
    ...draft,
    ...policy.versions.map((v) => ({
      key: String(v.version),
      title: `version ${v.version}`,
      document: v.document,
    })),
  ];
}

/** A policy's versions: who put each in force, when and why, and any two side by side in words. */
export function VersionsPage() {
  const { id = "" } = useParams();
  const policy = usePolicy(id);
  useEffect(() => {
    document.title = `${policy.data?.name ?? id}, versions · Firth`;
  }, [policy.data?.name, id]);
  if (policy.error) return <ProblemNote error={policy.error} />;
  if (!policy.data) return <main className="px-5 py-6 text-muted">…</main>;
  return <Versions policy={policy.data} />;
}

const STATE: Record<VersionView["state"], string> = {
  "in-force": "in force",
  earlier: "earlier",
  coming: "still to come",
  withdrawn: "withdrawn",
};

function Versions({ policy }: { policy: PolicyView }) {
  const navigate = useNavigate();
  const all = choices(policy);
  const [newer, setNewer] = useState(all[0]?.key ?? "");
  const [older, setOlder] = useState(all[1]?.key ?? all[0]?.key ?? "");
  const { run, problem } = useCommand();
  const of = (key: string) => all.find((c) => c.key === key) ?? all[0];
  const options = all.map((c): [string, string] => [c.key, c.title]);
  const one = of(older);
  const other = of(newer);
  const page = `/policies/${encodeURIComponent(policy.id)}`;
  const again = (document: WrittenDocument) =>
    void run(
      () => {
        const { withdrawn: _, ...rules } = document;
        return keepDraft(policy.id, rules);
      },
      () => navigate(page),
    );
  return (
    <main className="px-5 pt-4 pb-10">
      <h1 className="text-page">{policy.name}, versions</h1>
      <p>
        <Link className="text-button" to={page}>
          Back to the policy
        </Link>
      </p>
      {problem && <ProblemNote error={problem} />}
      <table className="mt-3 w-full max-w-[1000px]">
        <thead className="text-note text-muted">
          <tr>
            {["version", "in force from", "who", "why", ""].map((h) => (
              <th key={h} className="pr-4 text-left font-normal">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {policy.versions.map((v) => (
            <VersionRow key={v.version} policy={policy.id} v={v} again={again} />
          ))}
        </tbody>
      </table>
      {one && other && (
        <section className="mt-6" aria-label="Side by side" data-testid="side-by-side">
          <h2 className="text-section">Side by side</h2>
          <table className="mt-1 w-full table-fixed">
            <thead>
              <tr>
                <th className="pb-1 text-left font-normal">
                  <Choice label="Left" labelled={false} value={older} options={options} onChange={setOlder} />
                </th>
                <th className="pb-1 text-left font-normal">
                  <Choice
                    label="Right"
                    labelled={false}
                    value={newer}
                    options={options}
                    onChange={setNewer}
                  />
                </th>
              </tr>
            </thead>
            <tbody>
              {sideBySide(one.document, other.document).map((p) => (
                <tr key={p.key} className={`border-t border-line align-top ${p.same ? "text-muted" : ""}`}>
                  <td className={`py-1 pr-4 ${p.same ? "" : "bg-sand/60"}`}>{p.old ?? "Nothing is said."}</td>
                  <td className={`py-1 pr-4 ${p.same ? "" : "bg-chosen font-semibold"}`}>
                    {p.new ?? "Nothing is said."}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </main>
  );
}

function VersionRow(props: {
  policy: string;
  v: VersionView;
  again: (document: WrittenDocument) => undefined;
}) {
  const { policy, v, again } = props;
  const may = useMay("planner");
  const [withdrawing, setWithdrawing] = useState(false);
  const { withdrawn } = v.document;
  return (
    <tr className="border-t border-line align-top">
      <td className="py-1 pr-4">
        {v.version} <span className="text-muted">{STATE[v.state]}</span>
      </td>
      <td className="py-1 pr-4 whitespace-nowrap" title={v.effectiveFrom}>
        {date(v.effectiveFrom, viewerZone)}, {time(v.effectiveFrom, viewerZone)}
      </td>
      <td className="py-1 pr-4">{v.document.putInForce?.by ?? "not recorded"}</td>
      <td className="py-1 pr-4">
        {v.document.putInForce?.why ?? ""}
        {v.document.putInForce?.despite && (
          <span className="text-ochre-text">
            {" "}
            Although it contradicts itself: {v.document.putInForce.despite}
          </span>
        )}
        {withdrawn && (
          <span className="block text-muted">
            Withdrawn by {withdrawn.by} on {longMoment(withdrawn.at ?? "", viewerZone)}: {withdrawn.why}
          </span>
        )}
        {withdrawing && (
          <WithdrawForm policy={policy} version={v.version} onClose={() => setWithdrawing(false)} />
        )}
      </td>
      <td className="py-1 text-right">
        {v.state === "coming" && may && !withdrawing && (
          <button className="text-button" onClick={() => setWithdrawing(true)}>
            Withdraw it…
          </button>
        )}
        {(v.state === "earlier" || v.state === "withdrawn") && may && (
          <button className="text-button" onClick={() => again(v.document)}>
            Make it the newest…
          </button>
        )}
      </td>
    </tr>
  );
}

/** Why a version that is still to come is not to. */
function WithdrawForm(props: { policy: string; version: number; onClose: () => void }) {
  const { policy, version, onClose } = props;
  const form = useForm({ defaultValues: { why: "" } });
  const { run, pending, problem } = useCommand([]);
  return (
    <Form
      form={form}
      label="Withdraw"
      className="mt-2 space-y-2"
      text={`Withdraw version ${version}`}
      missing={(v) => [!v.why.trim() && "why"]}
      disabled={pending}
      problem={problem}
      onSubmit={(v) => run(() => withdraw(policy, version, v.why), onClose)}
      onCancel={onClose}
    >
      <TextOf form={form} name="why" label="Why it is withdrawn" autoFocus />
    </Form>
  );
}
