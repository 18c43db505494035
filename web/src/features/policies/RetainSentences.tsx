import { ShelfSketch } from "./ShelfSketch";
import { KNOWN } from "./sentences";
import { ChoiceValue, CountValue, DurationValue, ReadValue, useEditing } from "./editing";

const ROLES: [string, string][] = [
  ["near", "near"],
  ["far", "far"],
  ["deep", "deep"],
];
const YES: [string, string][] = [
  ["true", "with their logs"],
  ["false", "without logs"],
];

/** What is retained where, how many copies there are, and what every backup must be. */
export function RetainSentences() {
  const { document, set } = useEditing();
  const retain = document.retain ?? [];
  return (
    <section aria-label="Shelf">
      <h2 className="mt-4 text-section">Shelf</h2>
      <ShelfSketch />
      {retain.length === 0 && (
        <p className="text-muted">No rule says what is retained, so nothing may ever be purged.</p>
      )}
      {retain.map((r, i) => {
        const path = `retain.${i}`;
        const name = `${r.role ?? "near"} stores`;
        return (
          <p key={i} className="sentence">
            In{" "}
            <ChoiceValue
              path={`${path}.role`}
              label={`Rule ${i + 1}: stores`}
              choices={ROLES}
              otherwise="near"
            />{" "}
            stores keep a reach of{" "}
            <DurationValue path={`${path}.reach`} label={`${name}: reach`} none="no time" />, the newest{" "}
            <CountValue path={`${path}.fulls`} label={`${name}: fulls`} /> fulls{" "}
            <ChoiceValue
              path={`${path}.logs`}
              label={`${name}: logs of fulls`}
              choices={YES}
              otherwise="true"
            />
            , <CountValue path={`${path}.rungs.day`} label={`${name}: days`} /> daily,{" "}
            <CountValue path={`${path}.rungs.week`} label={`${name}: weeks`} /> weekly,{" "}
            <CountValue path={`${path}.rungs.month`} label={`${name}: months`} /> monthly and{" "}
            <CountValue path={`${path}.rungs.year`} label={`${name}: years`} /> yearly rungs, and{" "}
            <CountValue path={`${path}.configs`} label={`${name}: config backups`} none="3" /> config backups.
            Lock copies for <DurationValue path={`${path}.lock`} label={`${name}: lock`} none="no time" />;
            delete them at the latest after{" "}
            <DurationValue path={`${path}.atMost`} label={`${name}: at most`} none="no set time" />.{" "}
            <button
              className="text-button text-note"
              aria-label={`Remove rule ${i + 1} for ${name}`}
              onClick={() => set(path, undefined)}
            >
              Remove
            </button>
          </p>
        );
      })}
      <p className="text-small">
        <button
          className="text-button"
          onClick={() => set("retain", [...retain, { role: "near", reach: "P14D", fulls: 2 }])}
        >
          Add a rule
        </button>
      </p>
      <p className="sentence">
        Every backup has copies in{" "}
        <CountValue path="copies.stores" label="Copies: stores" none="any number of" /> stores, on{" "}
        <CountValue path="copies.media" label="Copies: media" none="any number of" /> media,{" "}
        <CountValue path="copies.offsite" label="Copies: at another site" /> at another site,{" "}
        <CountValue path="copies.locked" label="Copies: locked" /> locked, within{" "}
        <DurationValue path="copies.within" label="Copies: within" none="no set time" />.
      </p>
    </section>
  );
}

const must = (word: string): [string, string][] => [
  ["true", word],
  ["false", `not ${word}`],
];

const KNOWLEDGE: [string, string][] = Object.entries(KNOWN).map(([word, text]) => [
  word,
  word === "told" ? "known in any way" : text,
]);

/** What every backup must be, how fast it may run, and who clears the source's logs. */
export function DemandSentences() {
  const { document, set } = useEditing();
  const limits = document.rateLimits ?? [];
  return (
    <section aria-label="Demands">
      <h2 className="mt-4 text-section">Demands</h2>
      <p className="sentence">
        Backups are{" "}
        <ChoiceValue
          path="demands.compressed"
          label="Compressed"
          choices={must("compressed")}
          otherwise="false"
        />
        ,{" "}
        <ChoiceValue
          path="demands.encrypted"
          label="Encrypted"
          choices={must("encrypted")}
          otherwise="false"
        />
        ,{" "}
        <ChoiceValue
          path="demands.checksummed"
          label="Checksummed"
          choices={must("checksummed")}
          otherwise="false"
        />
        , verified within{" "}
        <DurationValue path="demands.verifiedWithin" label="Verified within" none="no set time" />, and{" "}
        <ChoiceValue path="demands.evidence" label="Evidence" choices={KNOWLEDGE} otherwise="told" />
        {(document.demands?.evidence ?? "told") !== "told" && (
          <>
            {" "}
            within <DurationValue path="demands.evidenceWithin" label="Evidence within" none="24 h" />
          </>
        )}
        . A config backup follows each data backup within{" "}
        <DurationValue path="demands.configAfterData" label="Config after data" none="no set time" />.
      </p>
      {limits.map((_, i) => (
        <LeastCopies key={i} i={i} set={set} />
      ))}
      <p className="text-small">
        <button
          className="text-button"
          onClick={() => set("rateLimits", [...limits, { bytesPerSecond: 5e7, hours: "closed" }])}
        >
          Add a rate limit
        </button>
      </p>
      <p className="sentence">
        The source's own logs are deleted by{" "}
        <ChoiceValue
          path="sourceLogs.deletedBy"
          label="Source logs are deleted by"
          choices={[
            ["engine", "the engine"],
            ["runner", "the runner"],
          ]}
          otherwise="engine"
        />{" "}
        after <CountValue path="sourceLogs.afterCopies" label="Source logs: after copies" none="any" />{" "}
        copies.
      </p>
      <p className="sentence">
        Before anything is purged,{" "}
        <CountValue path="purgeApprovals" label="Purge: how many others approve" none="1" /> other people
        approve it.
      </p>
    </section>
  );
}

function LeastCopies(props: { i: number; set: (path: string, value: unknown) => void }) {
  const { i, set } = props;
  return (
    <p className="sentence">
      Backups use at most{" "}
      <ReadValue
        path={`rateLimits.${i}.bytesPerSecond`}
        label={`Limit ${i + 1}: rate`}
        read={readRate}
        say={(b) => `${Number(b) / 1e6} MB/s`}
      />{" "}
      in{" "}
      <ChoiceValue
        path={`rateLimits.${i}.hours`}
        label={`Limit ${i + 1}: hours`}
        choices={[
          ["open", "open hours"],
          ["closed", "all but the open hours"],
          ["always", "all hours"],
        ]}
        otherwise="always"
      />
      .{" "}
      <button
        className="text-button text-note"
        aria-label={`Remove limit ${i + 1}`}
        onClick={() => set(`rateLimits.${i}`, undefined)}
      >
        Remove
      </button>
    </p>
  );
}

function readRate(typed: string): number | Error {
  const m = /^(\d+(?:\.\d+)?)\s*(k|M|G)?B?(?:\/s)?$/i.exec(typed.trim());
  if (!m || Number(m[1]) === 0) return new Error("is not a rate such as 50 MB/s");
  const unit = { k: 1e3, m: 1e6, g: 1e9 }[(m[2] ?? "M").toLowerCase()] ?? 1e6;
  return Number(m[1]) * unit;
}
