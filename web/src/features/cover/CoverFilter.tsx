import { useState } from "react";
import type { Cover } from "../../api/types";
import { count } from "../../time/words";
import { WordsField } from "../../ui/WordsField";
import { FILTERS, type Filter, type FilterName } from "./asked";

type Trait = Exclude<FilterName, "words">;

type Props = {
  cover: Cover;
  shown: number;
  filter: Filter;
  onChange: (name: FilterName, value: string) => void;
  onClear: () => void;
};

const ANY: Record<Trait, string> = {
  grade: "any grade",
  policy: "any policy",
  site: "any site",
  engine: "any engine",
  label: "any label or owner",
};

/** Says which databases are wanted, by words and by what they have. */
export function CoverFilter({ cover, shown, filter, onChange, onClear }: Props) {
  const [cleared, setCleared] = useState(0);
  const filtered = FILTERS.some((f) => filter[f]);
  return (
    <div
      role="search"
      aria-label="Databases"
      className="mt-2 flex flex-wrap items-center gap-x-2.5 gap-y-1.5"
    >
      <WordsField
        key={cleared}
        label="Words in names, ids, policies, sites, engines, labels and owners"
        initial={cleared > 0 ? "" : filter.words}
        className="w-[150px] py-0.5"
        onChange={(w) => onChange("words", w)}
      />
      {cover.choices
        .map(({ trait, values }) => [trait as Trait, values] as const)
        .filter(([c, values]) => values.length > 1 || filter[c])
        .map(([c, values]) => (
          <select
            key={c}
            aria-label={c}
            value={filter[c]}
            onChange={(e) => onChange(c, e.target.value)}
            className={`max-w-[190px] rounded border bg-panel px-1.5 py-0.5 ${filter[c] ? "border-ink" : "border-line"}`}
          >
            <option value="">{ANY[c]}</option>
            {values.map(({ value, databases }) => (
              <option key={value} value={value}>
                {value} ({count(databases)})
              </option>
            ))}
          </select>
        ))}
      {filtered && (
        <span role="status" className="text-muted">
          {count(shown)} of {count(cover.databases)} databases{" "}
          <button
            className="text-button"
            onClick={() => {
              setCleared((n) => n + 1);
              onClear();
            }}
          >
            Show all
          </button>
        </span>
      )}
    </div>
  );
}
