import { createContext, useContext } from "react";
import type { Flaw, WrittenDocument } from "../../api/types";
import { valueAt } from "./document";
import { durationWords, readDuration } from "./values";
import { Value } from "./Value";

/** The policy being written, and how it is changed. */
export type Editing = {
  document: WrittenDocument;
  /** The version in force, which a change is a change of. */
  base: WrittenDocument | null;
  set: (path: string, value: unknown) => void;
  flaws: Flaw[];
  bad: { path: string; reason: string } | null;
};

export const EditingContext = createContext<Editing | null>(null);

export function useEditing(): Editing {
  const editing = useContext(EditingContext);
  if (!editing) throw new Error("a value of a policy stands outside its editor");
  return editing;
}

function useAt(path: string) {
  const { document, base, set, flaws, bad } = useEditing();
  const value = valueAt(document, path);
  const before = base ? valueAt(base, path) : undefined;
  return {
    value,
    set: (next: unknown) => set(path, next),
    changed: base !== null && JSON.stringify(value ?? null) !== JSON.stringify(before ?? null),
    problem: bad?.path === path ? bad.reason : flaws.find((f) => f.path === path)?.text,
  };
}

/** A plain value as it is written; nothing of what is none. */
const written = (value: unknown): string =>
  typeof value === "string" || typeof value === "number" || typeof value === "boolean" ? String(value) : "";

type Part = { path: string; label: string; none?: string };

/** A duration: "10 min", "18 days". Left empty it is taken away, where it may be. */
export function DurationValue({ path, label, none, needed }: Part & { needed?: boolean }) {
  const at = useAt(path);
  const iso = (at.value as string | undefined) ?? "";
  return (
    <Value
      label={label}
      text={iso && durationWords(iso)}
      none={none ?? "no promise"}
      changed={at.changed}
      problem={at.problem}
      onChange={(typed) => {
        const clear = typed.trim() === "";
        const read = clear ? undefined : readDuration(typed);
        if (read === null) return "is not a duration such as 10 min, 4 h or 18 days";
        if (clear && needed) return "is needed here";
        at.set(read);
        return null;
      }}
    />
  );
}

/** A whole number. */
export function CountValue({ path, label, none, needed }: Part & { needed?: boolean }) {
  const at = useAt(path);
  return (
    <Value
      label={label}
      text={written(at.value)}
      none={none ?? "no"}
      changed={at.changed}
      problem={at.problem}
      onChange={(typed) => {
        const clear = typed.trim() === "";
        if (!clear && !/^\d{1,6}$/.test(typed.trim())) return "is not a whole number";
        if (clear && needed) return "is needed here";
        at.set(clear ? undefined : Number(typed));
        return null;
      }}
    />
  );
}

/** One of a few words. */
export function ChoiceValue({
  path,
  label,
  choices,
  otherwise,
}: Part & { choices: [value: string, text: string][]; otherwise: string }) {
  const at = useAt(path);
  const value = written(at.value) || otherwise;
  const flag = choices.every(([v]) => v === "true" || v === "false");
  return (
    <Value
      label={label}
      text={choices.find(([v]) => v === value)?.[1] ?? value}
      edited={value}
      choices={choices}
      changed={at.changed}
      problem={at.problem}
      onChange={(chosen) => {
        at.set(flag ? chosen === "true" : chosen === "" ? undefined : chosen);
        return null;
      }}
    />
  );
}

/** Text that some reading of it accepts. */
export function ReadValue({
  path,
  label,
  none,
  read,
  say,
}: Part & { read: (typed: string) => unknown; say: (value: unknown) => string }) {
  const at = useAt(path);
  return (
    <Value
      label={label}
      text={at.value === undefined || at.value === null ? "" : say(at.value)}
      none={none ?? "none"}
      changed={at.changed}
      problem={at.problem}
      onChange={(typed) => {
        if (typed.trim() === "") {
          at.set(undefined);
          return null;
        }
        const value = read(typed);
        if (value instanceof Error) return value.message;
        at.set(value);
        return null;
      }}
    />
  );
}
