import { useForm } from "react-hook-form";
import { DialogForm } from "../../ui/DialogForm";
import { CheckOf, SelectOf, TextOf } from "../../ui/fields";
import { useCommand } from "../../ui/useCommand";
import { FOLLOWS_PLACES, statePlace, type Place } from "./api";
import { storeDocument, storeFlaw, storeValues } from "./store";

const ROLES = [
  ["near", "near: the first, restored from most often"],
  ["far", "far: apart from the databases"],
  ["deep", "deep: for years, slow to read"],
  ["", "none: no rule counts what lies there"],
] as const;

const WAYS = [
  ["refuse-new", "nothing: new backups are refused"],
  ["obsolete-first", "what no rule needs"],
  ["copied-elsewhere-first", "what no rule needs, then what lies elsewhere too"],
] as const;

type Props = {
  store: Place | null;
  sites: { id: string; name: string; retired?: string | null }[];
  onClose: () => void;
};

/** Makes a store, or changes what is said of one. */
export function StoreForm({ store, sites, onClose }: Props) {
  const form = useForm({ defaultValues: storeValues(store?.document ?? {}) });
  const { run, pending, problem } = useCommand(...FOLLOWS_PLACES);
  const own = store?.document.site as string | undefined;
  const offered = sites.filter((s) => !s.retired || s.id === own);
  return (
    <DialogForm
      title={store ? `Edit ${store.name}` : "A new store"}
      about="A store holds backups: a directory, a bucket, a tape library. What is not said is not known, and nothing is computed from it."
      width="w-[620px]"
      label="Store"
      form={form}
      text={store ? "Keep" : "Add it"}
      missing={(v) => [storeFlaw(v)]}
      disabled={pending}
      problem={problem}
      onSubmit={(v) =>
        run(() => statePlace("store", storeDocument(v, store?.document ?? null), !store), onClose)
      }
      onClose={onClose}
    >
      <div className="grid grid-cols-2 gap-x-6 gap-y-3">
        <TextOf form={form} name="name" label="Name" />
        <SelectOf
          form={form}
          name="site"
          label="Site"
          options={[
            ["", "none: it counts as lost with any site"],
            ...offered.map((s) => [s.id, s.name] as const),
          ]}
        />
        <SelectOf form={form} name="role" label="Role" options={ROLES} />
        <TextOf form={form} name="medium" label="Medium" placeholder="disk, object storage, tape" />
        <TextOf form={form} name="capacity" label="Capacity in TB" placeholder="no limit known" />
        <TextOf form={form} name="reads" label="Is read at MB a second" placeholder="not known" />
        <SelectOf form={form} name="givesWay" label="When it is short, what gives way" options={WAYS} />
        <TextOf form={form} name="stay" label="Days a copy stays at least" placeholder="no minimum" />
      </div>
      <CheckOf form={form} name="locks" label="It can keep a copy from being deleted until a moment" />
    </DialogForm>
  );
}
