import { DialogTitle } from "@headlessui/react";
import { SidePanel } from "../../ui/SidePanel";
import { Link } from "react-router";
import type { Finding } from "../../api/types";
import { longMoment, moment, viewerZone } from "../../time/words";
import { useView } from "../../time/view";
import { headline } from "./finding";

/** The answer, everything that was tried against it, the facts, and the rule. */
export function FindingWhy({ finding: f, onClose }: { finding: Finding; onClose: () => void }) {
  const { search } = useView();
  const zone = f.zone ?? viewerZone;
  return (
    <SidePanel width="w-[460px]" onClose={onClose} testId="why">
      <div className="flex items-baseline justify-between gap-3">
        <DialogTitle className="text-box leading-tight">{headline(f)}</DialogTitle>
        <button className="text-button" onClick={onClose}>
          Close
        </button>
      </div>
      <p className="mt-3 text-lead">{f.text}</p>
      <p className="mt-2 text-lead">
        <b>{f.action}</b>
      </p>
      {f.waysOut.length > 0 && (
        <>
          <h3 className="mt-5 text-lead">What was tried, on paper</h3>
          <ul className="mt-1">
            {f.waysOut.map((w) => (
              <li key={w.text} className="border-t border-line py-1.5">
                <div className={w.ends ? "font-semibold" : "text-muted"}>{w.text}</div>
                <div className="text-muted">
                  {w.ends ? `ends it at ${longMoment(w.resumes, zone)}` : "does not end it"}
                  {w.ends && w.holeFrom && w.holeTo
                    ? `; the hole ${moment(w.holeFrom, zone)} to ${moment(w.holeTo, zone)} stays${
                        w.leaves ? ` until ${moment(w.leaves, zone)}` : ""
                      }`
                    : ""}
                </div>
              </li>
            ))}
          </ul>
        </>
      )}
      <h3 className="mt-5 text-lead">Databases affected</h3>
      <p className="mt-1">
        {f.databases.map((d, i) => (
          <span key={d.id}>
            {i > 0 && ", "}
            <Link className="text-button" to={`/databases/${encodeURIComponent(d.id)}${search}`}>
              {d.name}
            </Link>
          </span>
        ))}
      </p>
      {f.facts.length > 0 && (
        <>
          <h3 className="mt-5 text-lead">The facts</h3>
          <p className="mt-1 font-mono text-note break-all">{f.facts.join(", ")}</p>
        </>
      )}
      <h3 className="mt-5 text-lead">The rule</h3>
      <p className="mt-1 text-muted">
        {f.waysOut.length > 0
          ? "Each way was added to the facts, going as such runs have gone lately, and everything was evaluated again; the one that brings cover back soonest is shown."
          : "It lasts as long as its cause does."}
      </p>
      <p className="mt-1 text-note text-muted">
        docs/semantics.md, Findings{f.waysOut.length > 0 ? " and Ways out" : ""}. Times in {zone}.
      </p>
    </SidePanel>
  );
}
