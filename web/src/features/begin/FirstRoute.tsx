import { useForm, useWatch } from "react-hook-form";
import { Link } from "react-router";
import { ProblemNote } from "../../ui/ProblemNote";
import { SelectOf } from "../../ui/fields";
import { useCommand } from "../../ui/useCommand";
import { idOf } from "../fleet/records";
import { FOLLOWS_PLACES, statePlace, type PlacesView } from "../places/api";

/** A route by the stores there are, named after where it goes. */
export function FirstRoute({ places, onDone }: { places: PlacesView; onDone: () => void }) {
  const stores = places.stores.filter((s) => !s.retired);
  const form = useForm({ defaultValues: { to: stores[0]?.id ?? "", copy: "" } });
  const { run, pending, problem } = useCommand(...FOLLOWS_PLACES);
  const { to, copy } = useWatch({ control: form.control });
  const name = (id: string | undefined) => stores.find((s) => s.id === id)?.name ?? "";
  const make = form.handleSubmit((v) => {
    const called = [`To ${name(v.to)}`, ...(v.copy ? [name(v.copy)] : [])].join(" and ");
    const document = {
      id: idOf(called),
      name: called,
      data: [v.to],
      log: [v.to],
      copies: v.copy ? [v.copy] : [],
    };
    void run(() => statePlace("route", document, true), onDone);
  });
  if (stores.length === 0) return <p className="mt-2 text-muted">Add a store first.</p>;
  return (
    <form
      aria-label="Route"
      noValidate
      className="mt-2 max-w-[420px] space-y-2"
      onSubmit={(e) => void make(e)}
    >
      <SelectOf
        form={form}
        name="to"
        label="Data backups and logs go to"
        options={stores.map((s) => [s.id, s.name] as const)}
      />
      <SelectOf
        form={form}
        name="copy"
        label="Each is copied to"
        options={[["", "nowhere"], ...stores.filter((s) => s.id !== to).map((s) => [s.id, s.name] as const)]}
      />
      {problem && <ProblemNote error={problem} />}
      <div className="flex items-baseline gap-3">
        <button className="ink-button" disabled={pending || !to || to === copy}>
          Make it
        </button>
        <Link className="text-button" to="/fleet/places">
          More about places
        </Link>
      </div>
    </form>
  );
}
