import { ReadValue, useEditing } from "./editing";
import { Value } from "./Value";
import { DAYS, dayName, daysWords, readTime } from "./values";

export const time = (typed: string) =>
  typed.trim() === "24:00" ? "24:00" : (readTime(typed) ?? new Error("is not a time of day such as 22:00"));

/** When running data backups are welcome. */
export function OpenHoursSentences() {
  const { document, set } = useEditing();
  const hours = document.openHours ?? [];
  return (
    <>
      {hours.map((h, i) => (
        <p key={i} className="sentence">
          Data backups are welcome every <Days at={i} days={h.days ?? []} /> from{" "}
          <ReadValue
            path={`openHours.${i}.from`}
            label={`Open hours ${i + 1}: from`}
            read={time}
            say={String}
          />{" "}
          to{" "}
          <ReadValue path={`openHours.${i}.to`} label={`Open hours ${i + 1}: to`} read={time} say={String} />.{" "}
          <button
            className="text-button text-note"
            aria-label={`Remove open hours ${i + 1}`}
            onClick={() => set(`openHours.${i}`, undefined)}
          >
            Remove
          </button>
        </p>
      ))}
      <p className="text-small">
        {hours.length === 0 && <span className="text-muted">Data backups may run at any hour. </span>}
        <button
          className="text-button"
          onClick={() => set("openHours", [...hours, { days: [...DAYS], from: "22:00", to: "06:00" }])}
        >
          Add open hours
        </button>
      </p>
    </>
  );
}

function Days({ at, days }: { at: number; days: string[] }) {
  const { set } = useEditing();
  return (
    <Value
      label={`Open hours ${at + 1}: days`}
      text={daysWords(days)}
      edited={days.map((d) => dayName(d).slice(0, 3)).join(", ")}
      onChange={(typed) => {
        const read = readDays(typed);
        if (read.length === 0) return "names no days such as Mon, Tue or every day";
        set(`openHours.${at}.days`, read);
        return null;
      }}
    />
  );
}

/** Days somebody typed: "Mon, Tue", "Mon-Fri", "every day". */
export function readDays(text: string): string[] {
  const typed = text.trim().toLowerCase();
  if (/^(every ?)?day$|^all$/.test(typed)) return [...DAYS];
  const out = new Set<string>();
  for (const part of typed.split(/[,\s]+/).filter(Boolean)) {
    const ends = part.split("-").map((p) => DAYS.findIndex((d) => p.startsWith(d.toLowerCase())));
    if (ends.some((e) => e < 0)) return [];
    const [from, to] = [ends[0] as number, ends[ends.length - 1] as number];
    for (let d = from; ; d = (d + 1) % 7) {
      out.add(DAYS[d] as string);
      if (d === to) break;
    }
  }
  return DAYS.filter((d) => out.has(d));
}
