import type { WrittenDocument } from "../../api/types";
import { usePlaces } from "../places/api";
import { ChoiceValue, CountValue, DurationValue, ReadValue, useEditing } from "./editing";
import { readDays, time } from "./OpenHoursSentences";
import { KINDS, kindsWords, readKinds } from "./kinds";
import { daysWords } from "./values";

/** How backups are taken: how fast, in which order, what follows what, and who clears the source's logs. */
export function TakingSentences() {
  const { document, set } = useEditing();
  const limits = document.rateLimits ?? [];
  const then = document.then ?? [];
  return (
    <section aria-label="How backups are taken">
      <h2 className="mt-4 text-section">How backups are taken</h2>
      {limits.map((_, i) => (
        <Limit key={i} i={i} />
      ))}
      <p className="sentence">
        Of kinds due at once the earlier goes first:{" "}
        <ReadValue
          path="order"
          label="Order of kinds"
          none="no order"
          read={(typed) => readKinds(typed) ?? new Error("names no kinds such as full, incremental, config")}
          say={(kinds) => kindsWords(kinds as string[], ", then ")}
        />
        .
      </p>
      {then.map((_, i) => (
        <Follows key={i} i={i} />
      ))}
      <SourceLogs document={document} />
      <p className="flex gap-3 text-small">
        <button
          className="text-button"
          onClick={() => set("rateLimits", [...limits, { bytesPerSecond: 5e7, hours: "closed" }])}
        >
          Add a rate limit
        </button>
        <button
          className="text-button"
          onClick={() => set("then", [...then, { after: ["full"], take: "log", within: "PT1H" }])}
        >
          Add what follows a backup
        </button>
      </p>
    </section>
  );
}

function Limit({ i }: { i: number }) {
  const { set } = useEditing();
  const places = usePlaces();
  const stores: [string, string][] = (places.data?.stores ?? []).map((s) => [s.id, s.name]);
  const path = `rateLimits.${i}`;
  const name = `Limit ${i + 1}`;
  return (
    <p className="sentence">
      A run writes at most{" "}
      <ReadValue
        path={`${path}.bytesPerSecond`}
        label={`${name}: rate`}
        read={readRate}
        say={(b) => `${Number(b) / 1e6} MB/s`}
      />{" "}
      in{" "}
      <ChoiceValue
        path={`${path}.hours`}
        label={`${name}: hours`}
        choices={[
          ["open", "open hours"],
          ["closed", "all but the open hours"],
          ["always", "all hours"],
        ]}
        otherwise="always"
      />
      , on{" "}
      <ReadValue
        path={`${path}.days`}
        label={`${name}: days`}
        none="every day"
        read={(typed) => {
          const days = readDays(typed);
          return days.length > 0 ? days : new Error("names no days such as Mon, Tue or every day");
        }}
        say={(days) => ((days as string[]).length === 7 ? "every day" : daysWords(days as string[]))}
      />{" "}
      from <ReadValue path={`${path}.from`} label={`${name}: from`} none="00:00" read={time} say={String} />{" "}
      to <ReadValue path={`${path}.to`} label={`${name}: to`} none="24:00" read={time} say={String} />, into{" "}
      <ChoiceValue
        path={`${path}.store`}
        label={`${name}: store`}
        choices={[["", "any store"], ...stores]}
        otherwise=""
      />
      , from{" "}
      <ReadValue
        path={`${path}.host`}
        label={`${name}: host`}
        none="any host"
        read={(t) => t.trim()}
        say={String}
      />
      . <Remove what={`limit ${i + 1}`} onClick={() => set(path, undefined)} />
    </p>
  );
}

function Follows({ i }: { i: number }) {
  const { set } = useEditing();
  const path = `then.${i}`;
  const name = `What follows ${i + 1}`;
  return (
    <p className="sentence">
      After each{" "}
      <ReadValue
        path={`${path}.after`}
        label={`${name}: after`}
        read={(typed) => readKinds(typed) ?? new Error("names no kinds such as full, incremental")}
        say={(kinds) => kindsWords(kinds as string[], " or ")}
      />{" "}
      that succeeds,{" "}
      <ChoiceValue path={`${path}.take`} label={`${name}: what`} choices={KINDS} otherwise="log" /> follows
      within <DurationValue path={`${path}.within`} label={`${name}: within`} needed />.{" "}
      <Remove what={`what follows ${i + 1}`} onClick={() => set(path, undefined)} />
    </p>
  );
}

function Remove({ what, onClick }: { what: string; onClick: () => void }) {
  return (
    <button className="text-button text-note" aria-label={`Remove ${what}`} onClick={onClick}>
      Remove
    </button>
  );
}

function SourceLogs({ document }: { document: WrittenDocument }) {
  const copies = document.sourceLogs?.afterCopies;
  return (
    <p className="sentence">
      The source&apos;s own logs are deleted by{" "}
      <ChoiceValue
        path="sourceLogs.deletedBy"
        label="Source logs are deleted by"
        choices={[
          ["engine", "the engine"],
          ["runner", "the runner"],
        ]}
        otherwise="engine"
      />
      {copies === undefined ? "; copies they need first: " : " after "}
      <CountValue path="sourceLogs.afterCopies" label="Source logs: after copies" none="not asked" />
      {copies === undefined ? "" : copies === 1 ? " copy" : " copies"}.
    </p>
  );
}

export function readRate(typed: string): number | Error {
  const m = /^(\d+(?:\.\d+)?)\s*(k|M|G)?B?(?:\/s)?$/i.exec(typed.trim());
  if (!m || Number(m[1]) === 0) return new Error("is not a rate such as 50 MB/s");
  const unit = { k: 1e3, m: 1e6, g: 1e9 }[(m[2] ?? "M").toLowerCase()] ?? 1e6;
  return Number(m[1]) * unit;
}
