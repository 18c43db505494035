import { DialogTitle } from "@headlessui/react";
import { SidePanel } from "../ui/SidePanel";
import { useCallback, useEffect, useState, type ReactNode } from "react";
import type { WhyView } from "../api/types";
import { type Subject, useWhy } from "./api";
import { duration, longMoment } from "../time/words";
import { useView } from "../time/view";
import { ProblemNote } from "../ui/ProblemNote";
import { WhyContext } from "./context";

type Question = { subject: Subject; zone: string };

/** Holds the one panel that answers why, and opens it for `w` on whatever has focus. */
export function WhyProvider({ children }: { children: ReactNode }) {
  const [question, setQuestion] = useState<Question | null>(null);
  const ask = useCallback((subject: Subject, zone: string) => setQuestion({ subject, zone }), []);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.key !== "w" || e.ctrlKey || e.metaKey || e.altKey) return;
      const focused = document.activeElement;
      if (focused instanceof HTMLInputElement || focused instanceof HTMLSelectElement) return;
      const marked =
        focused?.closest("[data-why]") ??
        document.querySelector("[data-chosen][data-why], [data-chosen] [data-why], [data-why-page]");
      const text = marked?.getAttribute("data-why") ?? marked?.getAttribute("data-why-page");
      if (text) setQuestion(JSON.parse(text) as Question);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return (
    <WhyContext value={ask}>
      {children}
      <WhyPanel question={question} onClose={() => setQuestion(null)} />
    </WhyContext>
  );
}

function WhyPanel({ question, onClose }: { question: Question | null; onClose: () => void }) {
  const view = useView();
  const why = useWhy(question?.subject ?? null, view.params);
  return (
    <SidePanel width="w-[420px]" open={question !== null} onClose={onClose} testId="why">
      <div className="flex items-baseline justify-between">
        <DialogTitle className="text-box">{why.data?.title ?? "Why?"}</DialogTitle>
        <button className="text-button" onClick={onClose}>
          Close
        </button>
      </div>
      <p className="text-note text-muted">{question?.subject.database}</p>
      {why.error && <ProblemNote error={why.error} />}
      {why.isLoading && <p className="mt-4 text-muted">…</p>}
      {why.data && question && <Answer why={why.data} zone={question.zone} />}
    </SidePanel>
  );
}

function Answer({ why, zone }: { why: WhyView; zone: string }) {
  return (
    <>
      <p className="mt-3 text-lead">
        {why.answer.map((p, i) =>
          p.words !== null ? (
            <span key={i}>{p.words}</span>
          ) : p.moment !== null ? (
            <b key={i} title={p.moment}>
              {longMoment(p.moment, zone)}
            </b>
          ) : (
            <b key={i}>{duration(p.seconds ?? 0)}</b>
          ),
        )}
      </p>
      <h3 className="mt-5 text-lead">The facts</h3>
      <ul className="mt-1">
        {why.facts.map((f, i) => (
          <li key={i} className="border-t border-line py-1.5">
            <div className="flex justify-between gap-3">
              <span className="font-semibold">{f.label}</span>
              {f.at && (
                <span className="whitespace-nowrap" title={f.at}>
                  {longMoment(f.at, zone)}
                </span>
              )}
            </div>
            {f.id && <div className="font-mono text-note break-all">{f.id}</div>}
            {f.note && <div className="text-muted">{f.note}</div>}
          </li>
        ))}
      </ul>
      <h3 className="mt-5 text-lead">The rule</h3>
      <p className="mt-1 text-muted">{why.rule}</p>
      <p className="mt-1 text-note text-muted">
        docs/semantics.md, {why.section}. Times in {zone}.
      </p>
    </>
  );
}
