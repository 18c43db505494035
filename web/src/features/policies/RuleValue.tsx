import { useEffect, useId, useRef, useState } from "react";
import { useOccurrences } from "./api";
import type { Schemas } from "../../api/types";
import { longMoment } from "../../time/words";
import { useEditing } from "./editing";
import { RulePicker } from "./RulePicker";
import { asRecurrence, countsFrom, picked, recurrenceWords } from "./recurrence";
import type { Picked } from "./picked";
import { ruleOf } from "./picked";

/** When a schedule's slots open: read as words, edited as days and a time or as a rule, and read back as the next ten slots. */
export function RuleValue({ at, name, zones }: { at: number; name: string; zones: string[] }) {
  const { document, base, set, flaws, bad } = useEditing();
  const schedule = document.schedules?.[at] ?? {};
  const before = base?.schedules?.find((s) => s.id === schedule.id);
  const [open, setOpen] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const path = `schedules.${at}`;
  const problem =
    flaws.find((f) => f.path === `${path}.at`)?.text ??
    (bad && (bad.path === `${path}.rrule` || bad.path === `${path}.cron`) ? bad.reason : undefined);
  const changed =
    base !== null &&
    (before?.rrule !== schedule.rrule ||
      before?.cron !== schedule.cron ||
      before?.anchor !== schedule.anchor);
  const anchor = countsFrom(schedule, before, base?.effectiveFrom);
  const take = (text: string, from?: string) => {
    const { rrule: _r, cron: _c, anchor: _a, ...rest } = schedule;
    set(path, {
      ...rest,
      ...asRecurrence(text),
      ...((from ?? schedule.anchor) && { anchor: from ?? schedule.anchor }),
    });
  };
  const close = () => {
    setOpen(false);
    button.current?.focus();
  };
  return (
    <>
      <button
        ref={button}
        aria-expanded={open}
        aria-label={`${name}: when: ${recurrenceWords(schedule)}`}
        className={`border-b-2 px-0.5 text-left leading-tight font-semibold ${
          problem ? "border-ochre" : changed ? "border-ink bg-chosen" : "border-water-2"
        }`}
        onClick={() => setOpen(!open)}
      >
        {recurrenceWords(schedule)}
      </button>
      {open && (
        <Rule
          name={name}
          rule={schedule.cron ?? schedule.rrule ?? ""}
          found={picked(schedule)}
          anchor={anchor}
          zones={zones}
          onTake={take}
          onClose={close}
        />
      )}
    </>
  );
}

function Rule(props: {
  name: string;
  rule: string;
  found: Picked | null;
  /** The date it counts its intervals from. */
  anchor: string;
  zones: string[];
  onTake: (text: string, anchor?: string) => void;
  onClose: () => void;
}) {
  const { rule, found: is, anchor, zones, onTake, onClose } = props;
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed ?? rule;
  const first = useRef<HTMLSelectElement>(null);
  const wrong = useId();
  useEffect(() => first.current?.focus(), []);
  const found = useOccurrences(text, zones, anchor);
  const problem = found.data?.problem ?? null;
  const takeTyped = () => {
    if (problem || text === rule) return;
    onTake(text);
    setTyped(null);
  };
  return (
    // Escape leaves the group from any of its fields.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions
    <span
      role="group"
      aria-label={`${props.name}: days and time`}
      className="my-2 block rounded-lg border border-ink bg-panel p-3 text-small leading-normal"
      onKeyDown={(e) => {
        if (e.key === "Escape") onClose();
      }}
    >
      <RulePicker
        first={first}
        rule={rule}
        is={is}
        anchor={anchor}
        onPick={(p, from) => {
          setTyped(null);
          onTake(ruleOf(p), p.every > 1 ? from : undefined);
        }}
      />
      <label className="mt-2 block">
        or an RFC 5545 rule or a cron line
        <input
          className="block w-full rounded border border-line px-1 font-mono text-note"
          aria-invalid={problem !== null}
          aria-describedby={problem ? wrong : undefined}
          value={text}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={takeTyped}
          onKeyDown={(e) => e.key === "Enter" && takeTyped()}
        />
      </label>
      {problem ? (
        <span id={wrong} role="alert" className="block text-coral-text">
          It {problem}.
        </span>
      ) : (
        found.data?.zones.map((z) => <NextSlots key={z.zone} of={z} />)
      )}
      <button className="text-button mt-2" onClick={onClose}>
        Done
      </button>
    </span>
  );
}

function NextSlots({ of: z }: { of: Schemas["Zoned"] }) {
  return (
    <span className="mt-2 block" data-testid="next-slots">
      <span className="text-muted">The next ten in {z.zone}: </span>
      {z.next.map((t) => longMoment(t, z.zone)).join(" · ") || "none"}
      {z.clockChange && (
        <span className="block text-muted">
          The clocks change on {longMoment(z.clockChange, z.zone)}; around it:{" "}
          {z.aroundChange.map((t) => longMoment(t, z.zone)).join(" · ") || "none"}
        </span>
      )}
    </span>
  );
}
