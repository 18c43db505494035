import { useEffect, useId, useRef, useState, type RefObject } from "react";

type Props = {
  /** What it is, for whoever cannot see where it stands. */
  label: string;
  /** As it is read; empty where there is none. */
  text: string;
  /** What stands there when there is no value. */
  none?: string;
  /** As it is edited, where that differs from how it is read. */
  edited?: string;
  /** Words to choose from instead of typing. */
  choices?: [value: string, text: string][];
  /** Takes what was typed or chosen; gives what is wrong with it, or null. */
  onChange: (typed: string) => string | null;
  /** What the server or the core says of it. */
  problem?: string | undefined;
  /** Whether it differs from the version in force. */
  changed?: boolean;
};

/** A value in a sentence: read where it stands, edited where it stands. Enter or a click opens it, Enter or leaving keeps it, Escape gives it up. */
export function Value({ label, text, none, edited, choices, onChange, problem, changed }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const field = useRef<HTMLInputElement & HTMLSelectElement>(null);
  const button = useRef<HTMLButtonElement>(null);
  const back = useRef(false);
  const described = useId();
  const open = typed !== null;
  useEffect(() => {
    if (open) {
      field.current?.focus();
      if (!choices) field.current?.select();
    } else if (back.current) {
      back.current = false;
      button.current?.focus();
    }
  }, [open, choices]);

  const close = (refocus: boolean) => {
    back.current = refocus;
    setTyped(null);
    setWrong(null);
  };
  const keep = (value: string, refocus: boolean) => {
    if (value === (edited ?? text)) {
      close(refocus);
      return;
    }
    const problem = onChange(value);
    if (problem) setWrong(problem);
    else close(refocus);
  };
  const said = wrong ?? problem;
  const common = {
    "aria-label": label,
    "aria-invalid": Boolean(said),
    "aria-describedby": said ? described : undefined,
    ref: field,
  };
  return (
    <span className="relative inline-block">
      {open && choices ? (
        <ChosenValue common={common} typed={typed} keep={keep} close={close} choices={choices} />
      ) : open ? (
        <TypedValue common={common} typed={typed} setTyped={setTyped} keep={keep} close={close} />
      ) : (
        <button
          ref={button}
          aria-label={`${label}: ${text || none || "none"}`}
          aria-describedby={said ? described : undefined}
          className={`border-b-2 px-0.5 leading-tight ${changed ? "bg-chosen" : ""} ${text ? "font-semibold" : "text-muted"} ${
            said ? "border-ochre" : changed ? "border-ink" : "border-water-2"
          }`}
          onClick={() => setTyped(edited ?? text)}
        >
          {text || none || "none"}
        </button>
      )}
      {wrong && (
        <span
          id={described}
          role="alert"
          className="absolute top-full left-0 z-20 w-max max-w-[260px] rounded border border-coral bg-panel px-2 py-0.5 text-note leading-snug text-coral-text"
        >
          {wrong}
        </span>
      )}
      {!wrong && problem && (
        <span id={described} className="sr-only">
          {problem}
        </span>
      )}
    </span>
  );
}

/** What a field has whatever it is. */
type FieldProps = {
  "aria-label": string;
  "aria-invalid": boolean;
  "aria-describedby": string | undefined;
  ref: RefObject<(HTMLInputElement & HTMLSelectElement) | null>;
};

function ChosenValue(props: {
  common: FieldProps;
  typed: string;
  keep: (value: string, refocus: boolean) => void;
  close: (refocus: boolean) => void;
  choices: [value: string, text: string][];
}) {
  const { common, typed, keep, close, choices } = props;
  return (
    <select
      {...common}
      className="rounded border border-ink bg-panel px-1 py-0.5 font-semibold"
      value={typed}
      onChange={(e) => keep(e.target.value, true)}
      onKeyDown={(e) => e.key === "Escape" && close(true)}
      onBlur={() => close(false)}
    >
      {choices.map(([value, words]) => (
        <option key={value} value={value}>
          {words}
        </option>
      ))}
    </select>
  );
}

function TypedValue(props: {
  common: FieldProps;
  typed: string;
  setTyped: (next: string | null) => void;
  keep: (value: string, refocus: boolean) => void;
  close: (refocus: boolean) => void;
}) {
  const { common, typed, setTyped, keep, close } = props;
  return (
    <input
      {...common}
      className="rounded border border-ink bg-panel px-1 py-0.5 font-semibold"
      size={Math.max(6, typed.length + 1)}
      value={typed}
      onChange={(e) => setTyped(e.target.value)}
      onKeyDown={(e) => {
        if (e.key === "Enter") {
          // Or the same Enter would press the button that takes the field's place.
          e.preventDefault();
          keep(typed, true);
        }
        if (e.key === "Escape") close(true);
      }}
      onBlur={() => keep(typed, false)}
    />
  );
}
