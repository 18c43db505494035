import type { Schemas } from "../../api/types";
import { Link, useParams } from "react-router";
import { useMore } from "../../api/stretch";
import { decideFind, findsOf, useStocktake, type StockFind } from "../stores/api";
import { count, longMoment, size, viewerZone } from "../../time/words";
import { MoreButton } from "../../ui/MoreButton";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { FINDS } from "./StockPanel";

type Does = Schemas["Decided"]["what"];
const DOES: Record<Does, string> = {
  drop: "Drop it from the catalog",
  adopt: "Adopt it",
  remove: "List it for removal",
  undo: "Undo",
};

const STATES: Record<string, string> = {
  dropped: "dropped from the catalog",
  adopted: "adopted",
  "to-remove": "listed for removal",
};

/** What a stocktake found, to be decided about one by one. */
export function StocktakePage() {
  const { id = "" } = useParams();
  const { data, error } = useStocktake(id);
  const { run, problem } = useCommand(["stock"], ["stores"]);
  if (error && !data) return <ProblemNote error={error} />;
  if (!data) return null;
  const decide = (find: StockFind, what: Does) => void run(() => decideFind(id, find.num, what));
  return (
    <main className="px-5 py-3">
      <p>
        <Link className="text-button" to={`/stores?store=${data.take.store}`}>
          Stores
        </Link>
      </p>
      <h1 className="text-page leading-tight">
        Stocktake of {data.take.storeName}
        {data.take.taken && `, ${longMoment(data.take.taken, viewerZone)}`}
      </h1>
      <p className="text-muted">
        {count(data.take.agreed)} copies agree with what is listed, {count(data.take.files)} files in all;
        listed by {data.take.told || "nobody yet"}. What is missing or other than it was written counts as
        spoiled from this moment on.
        {data.toRemove > 0 && (
          <a className="text-button ml-2" href={`/api/stocktakes/${id}/to-remove.csv`} download>
            The list of what is to be removed
          </a>
        )}
      </p>
      {problem && <ProblemNote error={problem} />}
      {data.found.length === 0 && <p className="mt-4">Everything is where the catalog says it is.</p>}
      {FINDS.map(([what, one, many]) => {
        const finds = data.found.find((f) => f.what === what)?.finds ?? 0;
        return (
          finds > 0 && (
            <section key={what} aria-label={many} data-finds={what}>
              <h2 className="mt-4 text-section">
                {count(finds)} {finds === 1 ? one : many}
              </h2>
              <Finds
                id={id}
                what={what}
                first={data.finds.filter((f) => f.what === what)}
                finds={finds}
                onDecide={decide}
              />
            </section>
          )
        );
      })}
    </main>
  );
}

/** Those of one sort, more of them when asked. */
function Finds(props: {
  id: string;
  what: string;
  first: StockFind[];
  finds: number;
  onDecide: (find: StockFind, what: Does) => void;
}) {
  const { id, what, first, finds, onDecide } = props;
  const { rows, left, more } = useMore(findsOf(id, what), { rows: first }, finds);
  return (
    <>
      <table className="w-full table-fixed text-left">
        <tbody>
          {rows.map((f) => (
            <Find key={f.num} find={f} onDecide={onDecide} />
          ))}
        </tbody>
      </table>
      <MoreButton left={left} onMore={more} />
    </>
  );
}

function Find({ find: f, onDecide }: { find: StockFind; onDecide: (find: StockFind, what: Does) => void }) {
  return (
    <tr className="border-t border-line align-top" data-find={f.num}>
      <td className="w-[34%] py-1.5 pr-3">
        <span className="block font-mono text-note break-all">{f.path || f.backup}</span>
        {f.database && <span className="text-note text-muted">{f.database}</span>}
      </td>
      <td className="py-1.5 pr-3">
        {f.told}
        {f.expected !== null && f.size !== null && f.what === "mismatch" && ` instead of ${size(f.expected)}`}
        {f.size !== null && f.what === "stray" && `, ${size(f.size)}`}
        {f.written && `, written ${longMoment(f.written, viewerZone)}`}
        {f.unasked && <b className="text-coral-text">; on no approved list</b>}
        {f.since && <span className="text-muted">; last seen right {longMoment(f.since, viewerZone)}</span>}
      </td>
      <td className="w-[30%] py-1.5 text-right">
        {f.state !== "open" && (
          <span className="text-muted">
            {STATES[f.state]} by {f.by}{" "}
          </span>
        )}
        {f.may.map((what) => (
          <button key={what} className="text-button ml-3" onClick={() => onDecide(f, what)}>
            {DOES[what]}
          </button>
        ))}
      </td>
    </tr>
  );
}
