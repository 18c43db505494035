import { ChoiceValue, DurationValue, ReadValue, useEditing } from "./editing";
import { freeId, type ScheduleDocument } from "./document";
import { NightsChart } from "./NightsChart";
import { OpenHoursSentences } from "./OpenHoursSentences";
import { RuleValue } from "./RuleValue";

const KINDS: [string, string][] = [
  ["full", "A full"],
  ["diff", "A differential"],
  ["incr", "An incremental"],
  ["config", "A config backup"],
];
const FINISH: [string, string][] = [
  ["true", "finished by then"],
  ["false", "free to run on"],
];
const ON: [string, string][] = [
  ["true", "switched on"],
  ["false", "switched off"],
];

/** When backups run: a sentence a schedule. */
export function ScheduleSentences({ zones, takes }: { zones: string[]; takes: Map<string, number> }) {
  const { document, set } = useEditing();
  const schedules = document.schedules ?? [];
  const add = (schedule: ScheduleDocument) =>
    set("schedules", [...schedules, { ...schedule, id: freeId(document, schedule.id ?? "schedule") }]);
  return (
    <section aria-label="Nights">
      <h2 className="mt-4 text-section">Nights</h2>
      <NightsChart takes={takes} />
      {schedules.length === 0 && <p className="text-muted">Nothing is scheduled yet.</p>}
      {schedules.map((s, i) => (
        <ScheduleSentence key={s.id ?? i} schedule={s} at={i} zones={zones} />
      ))}
      <p className="mt-1 flex flex-wrap gap-x-4 text-small">
        <span className="text-muted">Add</span>
        {KINDS.map(([kind, words]) => (
          <button key={kind} className="text-button" onClick={() => add(dataSchedule(kind))}>
            {words.charAt(0).toLowerCase() + words.slice(1)}
          </button>
        ))}
        <button
          className="text-button"
          onClick={() => add({ id: "logs", kind: "log", every: "PT15M", enabled: true })}
        >
          logs
        </button>
      </p>
      <OpenHoursSentences />
    </section>
  );
}

function dataSchedule(kind: string): ScheduleDocument {
  const weekly = kind === "full";
  return {
    id: weekly ? "weekly" : `${kind}-nightly`,
    kind,
    rrule: weekly
      ? "FREQ=WEEKLY;BYDAY=SA;BYHOUR=22;BYMINUTE=0"
      : "FREQ=WEEKLY;BYDAY=MO,TU,WE,TH,FR,SU;BYHOUR=22;BYMINUTE=0",
    within: "PT4H",
    enabled: true,
  };
}

function ScheduleSentence(props: { schedule: ScheduleDocument; at: number; zones: string[] }) {
  const { schedule, at, zones } = props;
  const { set } = useEditing();
  const path = `schedules.${at}`;
  const name = schedule.id ?? `schedule ${at + 1}`;
  return (
    <p className="sentence" data-schedule={name}>
      {schedule.kind === "log" && schedule.every ? (
        <>
          Logs every <DurationValue path={`${path}.every`} label={`${name}: interval of logs`} needed />
        </>
      ) : (
        <>
          <ChoiceValue path={`${path}.kind`} label={`${name}: kind`} choices={KINDS} otherwise="full" />{" "}
          <RuleValue at={at} name={name} zones={zones} />, started within{" "}
          <DurationValue path={`${path}.within`} label={`${name}: start window`} needed /> and{" "}
          <ChoiceValue
            path={`${path}.mustFinish`}
            label={`${name}: end`}
            choices={FINISH}
            otherwise="false"
          />
        </>
      )}
      , with <DurationValue path={`${path}.grace`} label={`${name}: grace`} none="15 min" /> grace;{" "}
      <ChoiceValue path={`${path}.enabled`} label={`${name} is`} choices={ON} otherwise="true" />.{" "}
      <ReadValue
        path={`${path}.id`}
        label={`Name of schedule ${at + 1}`}
        read={(typed) =>
          /^[A-Za-z0-9._:/-]{1,120}$/.test(typed)
            ? typed
            : new Error("is not a name of letters, digits and dashes")
        }
        say={String}
      />{" "}
      <button
        className="text-button text-note"
        aria-label={`Remove ${name}`}
        onClick={() => set(path, undefined)}
      >
        Remove
      </button>
    </p>
  );
}
