import { useForm, useWatch } from "react-hook-form";
import { stateAll } from "../intake/api";
import type { StoreRow } from "./api";
import { useCommand } from "../../ui/useCommand";
import { Form } from "../../ui/Form";
import { ChoiceOf, TextOf } from "../../ui/fields";

/** States what gives way in a store, how long copies stay in it and how much it holds. */
export function RuleForm({ store, onClose }: { store: StoreRow; onClose: () => void }) {
  const form = useForm({
    defaultValues: {
      way: store.givesWay,
      stay: String((store.minimumStaySeconds ?? 0) / 86_400),
      capacity: store.capacity ? String(store.capacity / 1e12) : "",
    },
  });
  const { run, pending, problem } = useCommand(["stores"]);
  const [stay, capacity] = useWatch({ control: form.control, name: ["stay", "capacity"] });
  const good = /^\d+(\.\d+)?$/.test(stay) && (capacity === "" || Number(capacity) > 0);
  return (
    <Form
      form={form}
      label="Edit the store"
      className="mt-2 space-y-2"
      text="Save it"
      disabled={!good || pending}
      problem={problem}
      onSubmit={(v) => {
        const stated = {
          ...(store.document as Record<string, unknown>),
          givesWay: v.way,
          minimumStay: `PT${Math.round(Number(v.stay) * 24)}H`,
          ...(v.capacity === "" ? {} : { capacityBytes: Number(v.capacity) * 1e12 }),
        };
        return run(() => stateAll([stated]), onClose);
      }}
      onCancel={onClose}
    >
      <ChoiceOf
        form={form}
        name="way"
        label="Gives way"
        options={[
          ["refuse-new", "nothing"],
          ["obsolete-first", "what no rule needs"],
          ["copied-elsewhere-first", "then what lies elsewhere too"],
        ]}
      />
      <TextOf form={form} name="stay" label="Minimum days a copy stays" />
      <TextOf form={form} name="capacity" label="Capacity in TB" placeholder="no limit known" />
    </Form>
  );
}
