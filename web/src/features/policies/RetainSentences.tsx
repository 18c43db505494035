import { ShelfSketch } from "./ShelfSketch";
import { KNOWN } from "./sentences";
import { ChoiceValue, CountValue, DurationValue, useEditing } from "./editing";

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

/** What every backup must be, and who approves a purge. */
export function DemandSentences() {
  const { document } = useEditing();
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
      <p className="sentence">
        Before anything is purged,{" "}
        <CountValue path="purgeApprovals" label="Purge: how many others approve" none="1" />{" "}
        {(document.purgeApprovals ?? 1) === 1 ? "other person approves it" : "other people approve it"}.
      </p>
    </section>
  );
}
