import { useState } from "react";
import type { BackupPage, DatabaseView } from "../../api/types";
import { useBackups } from "./api";
import { useView } from "../../time/view";
import { count, moment, size, span } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { useAskWhy } from "../../why/context";

const PAGE = 50;
const KINDS = [
  ["full,diff,incr", "data backups"],
  ["log", "logs"],
  ["config", "config"],
  ["", "all kinds"],
] as const;
const VERDICTS = ["", "needed", "obsolete", "unusable"] as const;
type Item = BackupPage["items"][number];

/** The copies that are there, what each is by the rules, and why. */
export function Backups({
  id,
  zone,
  tallies,
  onHold,
}: {
  id: string;
  zone: string;
  tallies: DatabaseView["tallies"];
  /** Absent where nothing can be held. */
  onHold: ((backup: string) => void) | null;
}) {
  const view = useView();
  const [kinds, setKinds] = useState<string>("full,diff,incr");
  const [verdict, setVerdict] = useState<string>("");
  const [offset, setOffset] = useState(0);
  const page = useBackups(id, view.params, { kinds, verdict, offset, limit: PAGE }, tallies.length > 0);
  const number = (v: string) =>
    tallies
      .filter((t) => (kinds === "" || kinds.split(",").includes(t.kind)) && (v === "" || t.verdict === v))
      .reduce((a, t) => a + t.copies, 0);
  const choose = (change: () => void) => {
    change();
    setOffset(0);
  };
  return (
    <section className="mt-4" aria-label="Backups">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h2 className="text-section">Backups</h2>
        <div role="group" aria-label="Kind" className="flex gap-3">
          {KINDS.map(([value, text]) => (
            <Tab key={value} on={kinds === value} text={text} onClick={() => choose(() => setKinds(value))} />
          ))}
        </div>
        <div role="group" aria-label="Verdict" className="ml-auto flex gap-3">
          {VERDICTS.map((v) => (
            <Tab
              key={v}
              on={verdict === v}
              text={`${v || "all"} ${count(number(v))}`}
              onClick={() => choose(() => setVerdict(v))}
            />
          ))}
        </div>
      </div>
      {page.error && <ProblemNote error={page.error} />}
      {page.data && page.data.items.length > 0 ? (
        <Copies items={page.data.items} id={id} zone={zone} onHold={onHold} />
      ) : (
        <p className="mt-2 text-muted">
          {tallies.length === 0 ? "No copy is left in any store." : "None of this kind."}
        </p>
      )}
      {page.data && page.data.total > PAGE && (
        <div className="mt-2 flex items-center gap-4">
          <button
            className="text-button"
            disabled={offset === 0}
            onClick={() => setOffset(Math.max(0, offset - PAGE))}
          >
            Newer
          </button>
          <span className="text-muted">
            {count(offset + 1)} to {count(Math.min(offset + PAGE, page.data.total))} of{" "}
            {count(page.data.total)}
          </span>
          <button
            className="text-button"
            disabled={offset + PAGE >= page.data.total}
            onClick={() => setOffset(offset + PAGE)}
          >
            Older
          </button>
        </div>
      )}
    </section>
  );
}

function Tab({ on, text, onClick }: { on: boolean; text: string; onClick: () => void }) {
  return (
    <button
      aria-pressed={on}
      className={on ? "border-b-2 border-ink font-semibold" : "text-muted"}
      onClick={onClick}
    >
      {text}
    </button>
  );
}

function Copies(props: {
  items: Item[];
  id: string;
  zone: string;
  onHold: ((backup: string) => void) | null;
}) {
  const { items, id, zone, onHold } = props;
  const ask = useAskWhy();
  return (
    <table className="mt-1 w-full" data-testid="backups">
      <thead className="text-left text-note text-muted">
        <tr>
          <th className="font-normal">backup</th>
          <th className="font-normal">taken</th>
          <th className="font-normal">store</th>
          <th className="pr-4 text-right font-normal">size</th>
          <th className="font-normal">verdict</th>
          <th className="font-normal">because</th>
        </tr>
      </thead>
      <tbody>
        {items.map((b) => {
          const subject = { database: id, about: "copy", backup: b.id, store: b.store } as const;
          return (
            <tr
              key={`${b.id} ${b.store}`}
              className="border-t border-line align-top"
              data-verdict={b.verdict}
            >
              <td className="max-w-[230px] min-w-[180px] py-1 pr-3 font-mono text-note break-all">{b.id}</td>
              <td className="py-1 pr-3 whitespace-nowrap" title={`${b.from} to ${b.to}`}>
                {b.kind === "log" ? span(b.from, b.to, zone) : moment(b.from, zone)}
              </td>
              <td className="py-1 pr-3 whitespace-nowrap">{b.storeName}</td>
              <td className="py-1 pr-4 text-right whitespace-nowrap">
                {b.bytes !== null ? size(b.bytes) : "–"}
              </td>
              <td className="py-1 pr-3">
                <button
                  className={`underline decoration-dotted ${b.verdict === "needed" ? "font-semibold" : b.verdict === "unusable" ? "text-ochre-text" : "text-muted"}`}
                  title="Why?"
                  data-why={JSON.stringify({ subject, zone })}
                  onClick={() => ask(subject, zone)}
                >
                  {b.verdict}
                </button>
              </td>
              <td className="py-1">
                {reasons(b)}
                {onHold && b.kind !== "log" && (
                  <button
                    className="text-button ml-2"
                    aria-label={`Hold ${b.id}`}
                    onClick={() => onHold(b.id)}
                  >
                    Hold…
                  </button>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** The first reasons; the rest are behind the verdict. */
function reasons(item: Item): string {
  const texts = [...new Set(item.reasons.map((r) => r.text))];
  if (texts.length === 0) return item.verdict === "obsolete" ? "no rule asks for it" : "";
  return texts.length <= 2
    ? texts.join(", ")
    : `${texts.slice(0, 2).join(", ")} and ${texts.length - 2} more`;
}
