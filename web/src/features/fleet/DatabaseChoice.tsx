import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { namedDatabases } from "./api";

type Props = {
  /** What it is, for those who cannot see it. */
  label: string;
  /** The id that is chosen; empty: none is. */
  value: string;
  /** How that one is called, where it is known. */
  name?: string | undefined;
  /** What it is called that none is chosen, where that is a choice. */
  none?: string;
  onChange: (id: string) => void;
};

/** One database of however many, found by typing. */
export function DatabaseChoice({ label, value, name, none, onChange }: Props) {
  const [words, setWords] = useState<string | null>(null);
  const found = useQuery({
    queryKey: ["choices", "databases", words ?? ""],
    queryFn: () => namedDatabases(words ?? ""),
    placeholderData: keepPreviousData,
    enabled: words !== null,
  });
  const known = found.data?.find((d) => d.id === value)?.name ?? name ?? value;
  const offered = [...(none !== undefined && !words ? [{ id: "", name: none }] : []), ...(found.data ?? [])];
  return (
    <Combobox<string>
      value={value}
      onChange={(id: string | null) => {
        if (id !== null) onChange(id);
        setWords(null);
      }}
      onClose={() => setWords(null)}
      immediate
    >
      <ComboboxInput
        aria-label={label}
        placeholder={none ?? "choose one"}
        className="w-[190px] rounded border border-line bg-panel px-2 py-0.5"
        displayValue={() => known}
        onFocus={(e) => {
          setWords("");
          e.target.select();
        }}
        onChange={(e) => setWords(e.target.value)}
      />
      <ComboboxOptions
        anchor={{ to: "bottom start", gap: 4 }}
        className="z-40 w-64 rounded-lg border border-ink bg-panel py-1 shadow-lg empty:hidden"
      >
        {offered.map((d) => (
          <ComboboxOption
            key={d.id}
            value={d.id}
            data-database={d.id}
            className="flex cursor-pointer justify-between px-3 py-0.5 data-focus:bg-chosen"
          >
            {d.name}
            {d.id !== "" && d.name !== d.id && <span className="text-note text-muted">{d.id}</span>}
          </ComboboxOption>
        ))}
      </ComboboxOptions>
    </Combobox>
  );
}
