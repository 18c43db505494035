import { useEffect, useState } from "react";
import { Link } from "react-router";
import { useMay } from "../../api/session";
import { date, size, viewerZone } from "../../time/words";
import { ProblemNote } from "../../ui/ProblemNote";
import { useCommand } from "../../ui/useCommand";
import { FOLLOWS_PLACES, retirePlace, usePlaces, type Place, type PlacesView, type PlaceType } from "./api";
import { Routes } from "./Routes";
import { SiteForm } from "./SiteForm";
import { storeValues } from "./store";
import { StoreForm } from "./StoreForm";
import { UsedBy } from "./UsedBy";

/** Sites, stores and routes: where backups lie and how they get there. */
export function PlacesPage() {
  const places = usePlaces();
  useEffect(() => {
    document.title = "Places · Firth";
  }, []);
  if (places.error) return <ProblemNote error={places.error} />;
  if (!places.data) return <main className="px-5 py-6 text-muted">…</main>;
  return (
    <main className="max-w-[1100px] px-5 pt-4 pb-10">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h1 className="text-page">Places</h1>
        <p className="text-muted">Where backups lie, and how they get there</p>
        <Link className="text-button ml-auto" to="/fleet">
          Back to the fleet
        </Link>
      </div>
      <Places places={places.data} />
    </main>
  );
}

type Open = { type: "site" | "store"; place: Place | null } | null;

function Places({ places }: { places: PlacesView }) {
  const [open, setOpen] = useState<Open>(null);
  const may = useMay("planner");
  const inUse = (of: Place[]) => of.filter((p) => !p.retired);
  return (
    <>
      <Section title="Sites" add="Add a site…" may={may} onAdd={() => setOpen({ type: "site", place: null })}>
        {inUse(places.sites).map((s) => (
          <Entry
            key={s.id}
            type="site"
            place={s}
            may={may}
            onEdit={() => setOpen({ type: "site", place: s })}
          />
        ))}
        {inUse(places.sites).length === 0 && (
          <Nothing>No site is known: nothing is said of what survives the loss of one.</Nothing>
        )}
      </Section>
      <Section
        title="Stores"
        add="Add a store…"
        may={may}
        onAdd={() => setOpen({ type: "store", place: null })}
      >
        {inUse(places.stores).map((s) => (
          <Entry
            key={s.id}
            type="store"
            place={s}
            about={aboutStore(s, places.sites)}
            may={may}
            onEdit={() => setOpen({ type: "store", place: s })}
          />
        ))}
        {inUse(places.stores).length === 0 && (
          <Nothing>No store is known: backups have nowhere to lie.</Nothing>
        )}
      </Section>
      <section aria-label="Routes" className="mt-7">
        <h2 className="text-section">Routes</h2>
        <p className="text-muted">Apart from policies, so that one policy serves every site</p>
        <Routes routes={places.routes} stores={places.stores} />
      </section>
      <RetiredPlaces places={places} may={may} />
      {open?.type === "site" && <SiteForm site={open.place} onClose={() => setOpen(null)} />}
      {open?.type === "store" && (
        <StoreForm store={open.place} sites={places.sites} onClose={() => setOpen(null)} />
      )}
    </>
  );
}

function Section(props: {
  title: string;
  add: string;
  may: boolean;
  onAdd: () => void;
  children: React.ReactNode;
}) {
  return (
    <section aria-label={props.title} className="mt-5">
      <div className="flex items-baseline gap-3">
        <h2 className="text-section">{props.title}</h2>
        {props.may && (
          <button className="outline-button" onClick={props.onAdd}>
            {props.add}
          </button>
        )}
      </div>
      {props.children}
    </section>
  );
}

const Nothing = ({ children }: { children: React.ReactNode }) => (
  <p className="mt-2 text-muted">{children}</p>
);

/** What is said of a store, in a line. */
export function aboutStore(store: Place, sites: Place[]): string {
  const v = storeValues(store.document);
  const site = sites.find((s) => s.id === v.site)?.name ?? v.site;
  return [
    v.role || "no role",
    site ? `at ${site}` : "at no site",
    v.medium,
    v.capacity ? size(Number(v.capacity) * 1e12) : "no limit known",
    v.reads ? `read at ${size(Number(v.reads) * 1e6)}/s` : "read at no stated rate",
    v.locks ? "locks copies" : "locks nothing",
  ]
    .filter(Boolean)
    .join(" · ");
}

function Entry(props: { type: PlaceType; place: Place; about?: string; may: boolean; onEdit: () => void }) {
  const { type, place, about, may, onEdit } = props;
  return (
    <div className="mt-2 border-t border-line pt-2" data-place={place.id}>
      <p className="flex flex-wrap items-baseline gap-x-3">
        <b>{place.name}</b>
        {about && <span>{about}</span>}
        {may && (
          <button className="text-button ml-auto" aria-label={`Edit ${place.name}`} onClick={onEdit}>
            Edit…
          </button>
        )}
      </p>
      <UsedBy type={type} place={place} />
    </div>
  );
}

const KINDS: [keyof PlacesView, PlaceType][] = [
  ["sites", "site"],
  ["stores", "store"],
  ["routes", "route"],
];

/** What is offered to nothing new any longer. */
function RetiredPlaces({ places, may }: { places: PlacesView; may: boolean }) {
  const { run, pending, problem } = useCommand(...FOLLOWS_PLACES);
  const retired = KINDS.flatMap(([kind, type]) =>
    places[kind].filter((p) => p.retired).map((place) => ({ type, place })),
  );
  if (retired.length === 0) return null;
  return (
    <section aria-label="Retired" className="mt-7">
      <h2 className="text-section">Retired</h2>
      <p className="text-muted">Offered to nothing new; what lies there is judged as before.</p>
      {problem && <ProblemNote error={problem} />}
      <ul className="mt-1">
        {retired.map(({ type, place }) => (
          <li key={`${type} ${place.id}`} data-retired={place.id}>
            The {type} <b>{place.name}</b>, since {date(place.retired ?? "", viewerZone)}{" "}
            {may && (
              <button
                className="text-button"
                disabled={pending}
                aria-label={`Use ${place.name} again`}
                onClick={() => void run(() => retirePlace(type, place.id, false))}
              >
                Use it again
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
