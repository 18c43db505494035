import { useForm } from "react-hook-form";
import { DialogForm } from "../../ui/DialogForm";
import { TextOf } from "../../ui/fields";
import { useCommand } from "../../ui/useCommand";
import { idOf } from "../fleet/records";
import { FOLLOWS_PLACES, statePlace, type Place } from "./api";

/** Makes a site, or names one anew. */
export function SiteForm({ site, onClose }: { site: Place | null; onClose: () => void }) {
  const form = useForm({ defaultValues: { name: site?.name ?? "" } });
  const { run, pending, problem } = useCommand(...FOLLOWS_PLACES);
  return (
    <DialogForm
      title={site ? `Edit ${site.name}` : "A new site"}
      about="A site is what can be lost at one blow: a building, a data hall, a region. A copy at another site survives its loss."
      label="Site"
      form={form}
      text={site ? "Keep" : "Add it"}
      missing={(v) => [!idOf(v.name) && "what it is called"]}
      disabled={pending}
      problem={problem}
      onSubmit={(v) => {
        const name = v.name.trim();
        const document = site ? { ...site.document, name } : { id: idOf(name), name };
        return run(() => statePlace("site", document, !site), onClose);
      }}
      onClose={onClose}
    >
      <TextOf form={form} name="name" label="Name" />
    </DialogForm>
  );
}
