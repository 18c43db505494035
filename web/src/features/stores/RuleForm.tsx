import { useState } from "react";
import { stateAll } from "../intake/api";
import type { StoreRow } from "./api";
import { useCommand } from "../../ui/useCommand";
import { Choice } from "../../ui/Choice";
import { Labelled } from "../../ui/Labelled";
import { FormFoot } from "../../ui/FormFoot";

/** States what gives way in a store, how long copies stay in it and how much it holds. */
export function RuleForm({ store, onClose }: { store: StoreRow; onClose: () => void }) {
  const [way, setWay] = useState(store.givesWay);
  const [stay, setStay] = useState(String((store.minimumStaySeconds ?? 0) / 86_400));
  const [capacity, setCapacity] = useState(store.capacity ? String(store.capacity / 1e12) : "");
  const { run, pending, problem } = useCommand(["stores"]);
  const good = /^\d+(\.\d+)?$/.test(stay) && (capacity === "" || Number(capacity) > 0);
  return (
    <form
      aria-label="Edit the store"
      className="mt-2 space-y-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (!good) return;
        const stated = {
          ...(store.document as Record<string, unknown>),
          givesWay: way,
          minimumStay: `PT${Math.round(Number(stay) * 24)}H`,
          ...(capacity === "" ? {} : { capacityBytes: Number(capacity) * 1e12 }),
        };
        void run(() => stateAll([stated]), onClose);
      }}
    >
      <Choice
        label="Gives way"
        value={way}
        options={[
          ["refuse-new", "nothing"],
          ["obsolete-first", "what no rule needs"],
          ["copied-elsewhere-first", "then what lies elsewhere too"],
        ]}
        onChange={setWay}
      />
      <Labelled label="Minimum days a copy stays" value={stay} onChange={setStay} />
      <Labelled label="Capacity in TB" value={capacity} onChange={setCapacity} placeholder="no limit known" />
      <FormFoot text="Save it" disabled={!good || pending} problem={problem} onCancel={onClose} />
    </form>
  );
}
