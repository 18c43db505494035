import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useRef, useState } from "react";
import { useNavigate } from "react-router";
import { StartForm } from "../features/runners/StartForm";
import { chooseTheme } from "../ui/theme";
import { useKeys } from "../ui/useKeys";
import { useFound, type Found } from "./useFound";

/** Finds a database, policy, store, run or backup, goes to a view or does something, by typing. */
export function FindBox() {
  const navigate = useNavigate();
  const [words, setWords] = useState("");
  // A fresh box after each use: the old one would take the focus back from where the choice led.
  const [used, setUsed] = useState(0);
  const [starting, setStarting] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  useKeys({ "/": () => input.current?.focus() });
  const found = useFound(words, (verb) => {
    if ("path" in verb) void navigate(verb.path);
    else if ("theme" in verb) chooseTheme(verb.theme);
    else setStarting(verb.start);
  });

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
          <kbd className="pointer-events-none absolute top-1.5 right-2 rounded border border-line px-1.5 text-fine text-muted">
            /
          </kbd>
        </div>
        <FoundList found={found} />
      </Combobox>
    </>
  );
}

function FoundList(props: { found: Found[] }) {
  const { found } = props;
  return (
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
          <span className="text-note text-muted">{f.note}</span>
        </ComboboxOption>
      ))}
    </ComboboxOptions>
  );
}
