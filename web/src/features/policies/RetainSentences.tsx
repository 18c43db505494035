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
            stores keep {r.reach ? "a reach of " : ""}
            <DurationValue path={`${path}.reach`} label={`${name}: reach`} none="no reach" />,{" "}
            {r.fulls === undefined ? "" : "the newest "}
            <CountValue path={`${path}.fulls`} label={`${name}: fulls`} none="no number of" /> fulls{" "}
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
            <CountValue path={`${path}.configs`} label={`${name}: config backups`} none="3" /> config backups.{" "}
            {r.lock ? "Lock copies for" : "Copies are"}{" "}
            <DurationValue path={`${path}.lock`} label={`${name}: lock`} none="not locked" />;{" "}
            {r.atMost ? "delete them at the latest after" : "how long they may stay has"}{" "}
            <DurationValue path={`${path}.atMost`} label={`${name}: at most`} none="no limit" />.{" "}
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
        Copies of every backup, at least: stores{" "}
        <CountValue path="copies.stores" label="Copies: stores" none="not asked" />, media{" "}
        <CountValue path="copies.media" label="Copies: media" none="not asked" />, at another site{" "}
        <CountValue path="copies.offsite" label="Copies: at another site" none="not asked" />, locked{" "}
        <CountValue path="copies.locked" label="Copies: locked" none="not asked" />. Time until they are
        there: <DurationValue path="copies.within" label="Copies: within" none="no limit" />.
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
        , {document.demands?.verifiedWithin ? "verified within" : "verified:"}{" "}
        <DurationValue path="demands.verifiedWithin" label="Verified within" none="not asked" />, and{" "}
        <ChoiceValue path="demands.evidence" label="Evidence" choices={KNOWLEDGE} otherwise="told" />
        {(document.demands?.evidence ?? "told") !== "told" && (
          <>
            {" "}
            within <DurationValue path="demands.evidenceWithin" label="Evidence within" none="24 h" />
          </>
        )}
        .{" "}
        {document.demands?.configAfterData
          ? "A config backup follows each data backup within"
          : "Config backups after data backups:"}{" "}
        <DurationValue path="demands.configAfterData" label="Config after data" none="not asked" />.
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
      <SourceLogs />
    </section>
  );
}

/** Who clears the source's logs, and how many others approve a purge. */
function SourceLogs() {
  const { document } = useEditing();
  return (
    <>
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
        />
        {document.sourceLogs?.afterCopies === undefined ? "; copies they need first: " : " after "}
        <CountValue path="sourceLogs.afterCopies" label="Source logs: after copies" none="not asked" />
        {document.sourceLogs?.afterCopies === undefined
          ? ""
          : document.sourceLogs.afterCopies === 1
            ? " copy"
            : " copies"}
        .
      </p>
      <p className="sentence">
        Before anything is purged,{" "}
        <CountValue path="purgeApprovals" label="Purge: how many others approve" none="1" />{" "}
        {(document.purgeApprovals ?? 1) === 1 ? "other person approves it" : "other people approve it"}.
      </p>
    </>
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
