import { useEffect, useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import type { Facets, Line } from "../../api/types";
import { under, useFacets, useHistory, type HistoryFilter } from "./api";
import { useView, type View } from "../../time/view";
import { count, lastDays } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { Held } from "../../ui/Held";
import { ProblemNote } from "../../ui/ProblemNote";
import {
  chosenIn,
  FACETS,
  filterOf,
  filterSearch,
  forgetFilter,
  isKind,
  KIND_NAMES,
  saveFilter,
  savedFilters,
  toggled,
  withFilter,
  type FacetName,
} from "./filter";
import { HistoryTable } from "./HistoryTable";
import type { UseQueryResult } from "@tanstack/react-query";

/** Every run and backup of the period, and the drills and restores among them. */
export function HistoryPage() {
  const view = useView();
  const [params, setParams] = useSearchParams();
  const filter = useMemo(() => filterOf(params), [params]);
  const folded = useMemo(() => ({ ...filter, fold: true }), [filter]);
  const history = useHistory(view.params, folded);
  const facets = useFacets(view.params, folded);
  const [opened, setOpened] = useState<Record<string, Line[]>>({});
  const { run, problem } = useCommand();
  const unfold = (id: string) => {
    if (opened[id]) {
      setOpened(({ [id]: _, ...others }) => others);
    } else {
      void run(
        () => under(view.params, folded, id),
        (those) => setOpened((o) => ({ ...o, [id]: those })),
      );
    }
  };
  // Where there is little room the choices are folded away until they are wanted.
  const [wide] = useState(() => window.innerWidth >= 1000);
  useEffect(() => {
    document.title = "History · Firth";
  }, []);
  const lines = useMemo(
    () => history.data?.pages.flatMap((p) => p.lines.flatMap((l) => [l, ...(opened[l.id] ?? [])])) ?? [],
    [history.data, opened],
  );
  const change = (next: URLSearchParams) => setParams(next, { replace: true });
  const set = (name: string, value: string) => {
    const next = new URLSearchParams(params);
    if (value) next.set(name, value);
    else next.delete(name);
    change(next);
  };
  const query = new URLSearchParams({
    ...view.params,
    ...Object.fromEntries(Object.entries(filter).map(([k, v]) => [k, String(v)])),
  }).toString();
  if (history.error) return <ProblemNote error={history.error} />;
  return (
    <main className="px-5 pt-3">
      <HistoryHead facets={facets} view={view} filter={filter} set={set} query={query} />
      {problem && <ProblemNote error={problem} />}
      <div className="mt-2 grid grid-cols-[164px_minmax(0,1fr)] gap-5 max-[1000px]:grid-cols-1">
        <HistoryChoices
          filter={filter}
          set={set}
          params={params}
          change={change}
          facets={facets}
          wide={wide}
        />
        <div className="min-w-0 overflow-x-auto">
          <div className="min-w-[960px]">
            {history.data && lines.length === 0 ? (
              <Nothing filtered={filterSearch(params) !== ""} onAll={() => change(withFilter(params, ""))} />
            ) : (
              <Held stale={history.isPlaceholderData}>
                <HistoryTable
                  lines={lines}
                  total={facets.data?.total ?? null}
                  more={history.hasNextPage}
                  fetching={history.isFetchingNextPage}
                  onMore={() => void history.fetchNextPage()}
                  search={view.search}
                  opened={opened}
                  onUnfold={unfold}
                />
              </Held>
            )}
          </div>
        </div>
      </div>
    </main>
  );
}

function HistoryHead(props: {
  facets: UseQueryResult<Facets>;
  view: View;
  filter: HistoryFilter;
  set: (name: string, value: string) => void;
  query: string;
}) {
  const { facets, view, filter, set, query } = props;
  return (
    <div className="flex flex-wrap items-baseline gap-x-3">
      <h1 className="text-page">History</h1>
      <p className="text-muted" role="status">
        {facets.data ? total(facets.data) : "counting"} of the {lastDays(view.days)}
        {filter.kind || filter.logs ? "" : "; logs that went well are left out"}
      </p>
      {!filter.kind && (
        <button className="text-button" onClick={() => set("logs", filter.logs ? "" : "all")}>
          {filter.logs ? "Leave them out" : "Show them"}
        </button>
      )}
      <span className="ml-auto flex items-baseline gap-3">
        <a className="text-button" href={`/api/history/export.csv?${query}`} download="history.csv">
          Save as CSV
        </a>
        <a className="text-button" href={`/api/history/export.ndjson?${query}`} download="history.ndjson">
          Save as NDJSON
        </a>
      </span>
    </div>
  );
}

function HistoryChoices(props: {
  filter: HistoryFilter;
  set: (name: string, value: string) => void;
  params: URLSearchParams;
  change: (next: URLSearchParams) => void;
  facets: UseQueryResult<Facets>;
  wide: boolean;
}) {
  const { filter, set, params, change, facets, wide } = props;
  return (
    <aside
      aria-label="Show only"
      className="h-[calc(100vh-190px)] overflow-x-hidden overflow-y-auto pr-1 max-[1000px]:h-auto"
    >
      <Words key={filter.words ?? ""} words={filter.words ?? ""} onChange={(w) => set("words", w)} />
      <SavedFilters params={params} onChange={change} />
      {facets.data && (
        <details open={wide}>
          <summary className="mt-2 cursor-pointer text-link min-[1000px]:hidden">Show only some</summary>
          <Choices
            facets={facets.data}
            chosen={(facet) => chosenIn(filter, facet)}
            onToggle={(facet, value) => change(toggled(params, facet, value))}
          />
        </details>
      )}
    </aside>
  );
}

function total(facets: Facets): string {
  return `${facets.complete ? "" : "more than "}${count(facets.total)} ${facets.total === 1 ? "line" : "lines"}`;
}

function Nothing({ filtered, onAll }: { filtered: boolean; onAll: () => void }) {
  return (
    <div className="mt-10 text-center text-muted">
      <p>Nothing {filtered ? "of what is asked for " : ""}happened in this period.</p>
      {filtered && (
        <button className="text-button mt-2" onClick={onAll}>
          Ask for everything
        </button>
      )}
    </div>
  );
}

function Words({ words, onChange }: { words: string; onChange: (words: string) => void }) {
  const [text, setText] = useState(words);
  return (
    <form
      role="search"
      onSubmit={(e) => {
        e.preventDefault();
        onChange(text.trim());
      }}
    >
      <input
        aria-label="Words in ids, names, messages and output"
        placeholder="Words, then enter"
        className="w-full rounded-lg border border-line bg-panel px-2.5 py-1"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onBlur={() => text.trim() !== words && onChange(text.trim())}
      />
    </form>
  );
}

function Choices(props: {
  facets: Facets;
  chosen: (facet: FacetName) => string[];
  onToggle: (facet: FacetName, value: string) => void;
}) {
  return FACETS.map((name) => {
    const found = props.facets.facets.find((f) => f.name === name)?.choices ?? [];
    const chosen = props.chosen(name);
    const gone = chosen.filter((v) => !found.some((c) => c.value === v));
    const all = [...found, ...gone.map((value) => ({ value, text: value, lines: 0 }))];
    if (all.length === 0) return null;
    return (
      <fieldset key={name} className="mt-3">
        <legend className="text-note text-muted">{name}</legend>
        {all.map((c) => (
          <label key={c.value} className="flex cursor-pointer items-center gap-1.5 leading-[1.6]">
            <input
              type="checkbox"
              checked={chosen.includes(c.value)}
              onChange={() => props.onToggle(name, c.value)}
            />
            <span className="truncate">
              {name === "kind" && isKind(c.value) ? KIND_NAMES[c.value] : c.text}
            </span>
            <span className="ml-auto text-note text-muted">{count(c.lines)}</span>
          </label>
        ))}
      </fieldset>
    );
  });
}

/** Filters kept by name; what is kept is the address, so a link does the same for anyone. */
function SavedFilters(props: { params: URLSearchParams; onChange: (next: URLSearchParams) => void }) {
  const [saved, setSaved] = useState(savedFilters);
  const [naming, setNaming] = useState<string | null>(null);
  const now = filterSearch(props.params);
  return (
    <div className="mt-2 text-small">
      {saved.map((f) => (
        <span key={f.name} className="flex items-baseline gap-2">
          <button
            className={`truncate ${f.search === now ? "font-semibold" : "text-button"}`}
            aria-pressed={f.search === now}
            onClick={() => props.onChange(withFilter(props.params, f.search))}
          >
            {f.name}
          </button>
          <button
            className="ml-auto text-muted"
            aria-label={`Forget ${f.name}`}
            onClick={() => setSaved(forgetFilter(f.name))}
          >
            forget
          </button>
        </span>
      ))}
      <span className="flex gap-3">
        {now !== "" && naming === null && (
          <button className="text-button" onClick={() => setNaming("")}>
            Keep this filter…
          </button>
        )}
        {now !== "" && (
          <button className="text-button" onClick={() => props.onChange(withFilter(props.params, ""))}>
            Clear
          </button>
        )}
      </span>
      {naming !== null && (
        <form
          className="mt-1 flex gap-1.5"
          onSubmit={(e) => {
            e.preventDefault();
            if (naming.trim()) setSaved(saveFilter({ name: naming.trim(), search: now }));
            setNaming(null);
          }}
        >
          <input
            autoFocus
            aria-label="Name of the filter"
            placeholder="its name"
            className="w-full min-w-0 rounded border border-line bg-panel px-2"
            value={naming}
            onChange={(e) => setNaming(e.target.value)}
          />
          <button className="text-button">Keep</button>
        </form>
      )}
    </div>
  );
}
