import { useMay } from "../../api/session";
import { count } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { useCommand } from "../../ui/useCommand";
import { FOLLOWS_PLACES, retirePlace, type Place, type PlaceType } from "./api";

/** A name that would fall apart in a list. */
const quoted = (name: string) => (name.includes(",") ? `“${name}”` : name);

const named = (one: string, many: string, names: string[]) =>
  names.length === 0 ? [] : [`${names.length === 1 ? one : many} ${names.map(quoted).join(", ")}`];

const FEW = 3;

/** Who goes by a place, in words; empty where nobody does. */
export function users({ usedBy: u }: Place): string {
  const few = u.databases.slice(0, FEW);
  const more = u.databasesAll - few.length;
  return [
    ...named("the store", "the stores", u.stores),
    ...named("the route", "the routes", u.routes),
    ...named("the standing rule", "the standing rules", u.standing),
    ...named("the database", "the databases", few),
    ...(more > 0 ? [more === 1 ? "one database more" : `${count(more)} databases more`] : []),
  ].join("; ");
}

/** Who goes by a place; one nobody goes by can be retired. */
export function UsedBy({ type, place }: { type: PlaceType; place: Place }) {
  const { run, pending, problem } = useCommand(...FOLLOWS_PLACES);
  const may = useMay("planner");
  const by = users(place);
  return (
    <>
      <p className="mt-1 text-note text-muted">
        {by ? `In use by ${by}.` : "Nothing goes by it. "}
        {!by && may && (
          <button
            className="text-button"
            disabled={pending}
            aria-label={`Retire ${place.name}`}
            onClick={() => void run(() => retirePlace(type, place.id, true))}
          >
            Retire it
          </button>
        )}
      </p>
      {problem && <ProblemNote error={problem} />}
    </>
  );
}
