import { useNavigate, type NavigateFunction } from "react-router";
import { useCover } from "../api/cover";
import { useChoices } from "../features/fleet/api";
import { useIds } from "../features/history/api";
import { useImport } from "../features/intake/ImportDrop";
import { usePolicies } from "../features/policies/api";
import { useView, type View } from "../time/view";
import { named, verbs, type Verb } from "./verbs";

export type Found = { key: string; text: string; note: string; run: () => void };

/** The views, by the name they have; those that look back keep the moment and the period. */
const VIEWS: [text: string, path: string, looksBack: boolean][] = [
  ["Watch", "/watch", true],
  ["What needs a backup", "/needs", true],
  ["Cover", "/cover", true],
  ["Gaps", "/gaps", true],
  ["History", "/history", true],
  ["Fleet", "/fleet", false],
  ["Policies", "/policies", false],
  ["Week", "/week", false],
  ["Stores", "/stores", false],
  ["Purge", "/purge", false],
  ["Restore", "/restore", true],
  ["Report", "/report", true],
  ["Recovery sheets", "/sheets", false],
  ["Sending", "/sending", false],
  ["Drills", "/drills", true],
  ["Loss rehearsal", "/rehearsals", true],
  ["Record", "/record", false],
  ["Places", "/fleet/places", false],
  ["First steps", "/begin", false],
  ["Standing rules", "/fleet/standing", false],
];

/** Where one can go, and what can be done from anywhere. */
function deeds(navigate: NavigateFunction, view: View, choose: () => void): Found[] {
  return [
    ...VIEWS.map(([text, path, looksBack]) => ({
      key: path,
      text,
      note: "go to",
      run: () => void navigate(`${path}${looksBack ? view.search : ""}`),
    })),
    { key: "import", text: "Import a fleet file", note: "do", run: choose },
    {
      key: "export",
      text: "Export everything as a fleet file",
      note: "do",
      run: () => window.location.assign("/api/export"),
    },
    { key: "newest", text: "Look from now", note: "do", run: () => view.setAsOf(null) },
  ];
}

const MOST = 6;

/** What fits some words: what they tell to do first, then what bears them in its name. */
export function useFound(words: string, doIt: (verb: Verb) => void): Found[] {
  const view = useView();
  const navigate = useNavigate();
  const choose = useImport();
  const id = words.trim();
  const cover = useCover(view.params, { by: "none", words: named(words), most: MOST, ids: 0 }, id !== "");
  const policies = usePolicies(id !== "");
  const fleet = useChoices(id !== "");
  // Ids of runs and backups are longer than most words, and never hold blanks.
  const ids = useIds(id, /^\S{5,120}$/.test(id));
  const databases: Found[] = (cover.data?.rows ?? []).map((r) => ({
    key: `database ${r.id}`,
    text: r.name,
    note: r.grade,
    run: () => void navigate(`/databases/${encodeURIComponent(r.id)}${view.search}`),
  }));
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
  const graded = cover.data?.choices.find((c) => c.trait === "grade")?.values ?? [];
  const wanted = id.toLowerCase();
  const done: Found[] = verbs(id, cover.data?.rows ?? [], graded, view.search).map((v) => ({
    key: v.key,
    text: v.text,
    note: v.note,
    run: () => doIt(v),
  }));
  return [
    ...done,
    ...(named(id) === id ? databases : []),
    ...[...kept, ...stores, ...deeds(navigate, view, choose), ...byId].filter((f) =>
      f.text.toLowerCase().includes(wanted),
    ),
  ].slice(0, 12);
}
