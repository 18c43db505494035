import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { useCover } from "../api/cover";
import { useFleet } from "../features/fleet/api";
import { useIds } from "../features/history/api";
import { usePolicies } from "../features/policies/api";
import { useImport } from "../features/intake/ImportDrop";
import { StartForm } from "../features/runners/StartForm";
import { useView } from "../time/view";
import { chooseTheme } from "../ui/theme";
import { useKeys } from "../ui/useKeys";
import { verbs, type Verb } from "./verbs";

type Found = { key: string; text: string; note: string; run: () => void };

/** Finds a database, policy, store, run or backup, goes to a view or does something, by typing. */
export function FindBox() {
  const view = useView();
  const cover = useCover(view.params);
  const navigate = useNavigate();
  const choose = useImport();
  const [words, setWords] = useState("");
  const id = words.trim();
  const policies = usePolicies(id !== "");
  const fleet = useFleet(id !== "");
  // Ids of runs and backups are longer than most words, and never hold blanks.
  const ids = useIds(id, /^\S{5,120}$/.test(id));
  // A fresh box after each use: the old one would take the focus back from where the choice led.
  const [used, setUsed] = useState(0);
  const [starting, setStarting] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  useKeys({ "/": () => input.current?.focus() });

  const databases: Found[] = (cover.data?.rows ?? []).map((r) => ({
    key: `database ${r.id}`,
    text: r.name,
    note: r.grade,
    run: () => void navigate(`/databases/${encodeURIComponent(r.id)}${view.search}`),
  }));
  const actions: Found[] = [
    { key: "watch", text: "Watch", note: "go to", run: () => void navigate(`/watch${view.search}`) },
    {
      key: "needs",
      text: "What needs a backup",
      note: "go to",
      run: () => void navigate(`/needs${view.search}`),
    },
    { key: "cover", text: "Cover", note: "go to", run: () => void navigate(`/cover${view.search}`) },
    { key: "gaps", text: "Gaps", note: "go to", run: () => void navigate(`/gaps${view.search}`) },
    { key: "history", text: "History", note: "go to", run: () => void navigate(`/history${view.search}`) },
    { key: "fleet", text: "Fleet", note: "go to", run: () => void navigate("/fleet") },
    { key: "policies", text: "Policies", note: "go to", run: () => void navigate("/policies") },
    { key: "week", text: "Week", note: "go to", run: () => void navigate("/week") },
    { key: "stores", text: "Stores", note: "go to", run: () => void navigate("/stores") },
    { key: "purge", text: "Purge", note: "go to", run: () => void navigate("/purge") },
    { key: "restore", text: "Restore", note: "go to", run: () => void navigate(`/restore${view.search}`) },
    { key: "report", text: "Report", note: "go to", run: () => void navigate(`/report${view.search}`) },
    { key: "sheets", text: "Recovery sheets", note: "go to", run: () => void navigate("/sheets") },
    { key: "sending", text: "Sending", note: "go to", run: () => void navigate("/sending") },
    { key: "drills", text: "Drills", note: "go to", run: () => void navigate(`/drills${view.search}`) },
    {
      key: "rehearsals",
      text: "Loss rehearsal",
      note: "go to",
      run: () => void navigate(`/rehearsals${view.search}`),
    },
    { key: "record", text: "Record", note: "go to", run: () => void navigate("/record") },
    { key: "routes", text: "Routes", note: "go to", run: () => void navigate("/fleet/routes") },
    { key: "standing", text: "Standing rules", note: "go to", run: () => void navigate("/fleet/standing") },
    { key: "import", text: "Import a fleet file", note: "do", run: choose },
    {
      key: "export",
      text: "Export everything as a fleet file",
      note: "do",
      run: () => window.location.assign("/api/export"),
    },
    { key: "newest", text: "Look from now", note: "do", run: () => view.setAsOf(null) },
  ];
  const kept: Found[] = (policies.data ?? []).map((p) => ({
    key: `policy ${p.id}`,
    text: p.name,
    note: "policy",
    run: () => void navigate(`/policies/${encodeURIComponent(p.id)}`),
  }));
  const stores: Found[] = (fleet.data?.stores ?? []).map((s) => ({
    key: `store ${s.id}`,
    text: s.name,
    note: "store",
    run: () => void navigate(`/stores?store=${encodeURIComponent(s.id)}`),
  }));
  const byId: Found[] = (ids.data ?? []).map((f) => ({
    key: `line ${f.id}`,
    text: f.id,
    note: f.kind,
    run: () => void navigate(`/history/${f.id.split("/").map(encodeURIComponent).join("/")}${view.search}`),
  }));
  const wanted = id.toLowerCase();
  const done: Found[] = verbs(id, cover.data?.rows ?? [], view.search).map((v) => ({
    key: v.key,
    text: v.text,
    note: v.note,
    run: () => doIt(v),
  }));
  function doIt(verb: Verb) {
    if ("path" in verb) void navigate(verb.path);
    else if ("theme" in verb) chooseTheme(verb.theme);
    else setStarting(verb.start);
  }
  const found = [
    ...done,
    ...[...databases, ...kept, ...stores, ...actions, ...byId].filter((f) =>
      f.text.toLowerCase().includes(wanted),
    ),
  ].slice(0, 12);

  return (
    <>
      {starting && <StartForm database={starting} onClose={() => setStarting(null)} />}
      <Combobox<Found | null>
        key={used}
        value={null}
        onChange={(f) => {
          f?.run();
          setWords("");
          setUsed((n) => n + 1);
        }}
        immediate
      >
        <div className="relative">
          <ComboboxInput
            ref={input}
            aria-label="Find or do"
            placeholder="Find or do"
            className="w-[170px] rounded-lg border border-line bg-panel py-1.5 pr-8 pl-3"
            displayValue={() => words}
            onChange={(e) => setWords(e.target.value)}
          />
          <kbd className="pointer-events-none absolute top-1.5 right-2 rounded border border-line px-1.5 text-[11px] text-muted">
            /
          </kbd>
        </div>
        <ComboboxOptions
          anchor={{ to: "bottom end", gap: 6 }}
          className="z-40 w-72 rounded-lg border border-ink bg-panel py-1 shadow-lg empty:hidden"
        >
          {found.map((f) => (
            <ComboboxOption
              key={f.key}
              value={f}
              className="flex cursor-pointer justify-between px-3 py-1 data-focus:bg-chosen"
            >
              {f.text}
              <span className="text-[12px] text-muted">{f.note}</span>
            </ComboboxOption>
          ))}
        </ComboboxOptions>
      </Combobox>
    </>
  );
}
