import { useState } from "react";
import type { Schemas } from "../../api/types";
import type { KeptRestore } from "./api";
import { isoSecond } from "../../time/view";
import { FormFoot } from "../../ui/FormFoot";
import { Labelled } from "../../ui/Labelled";
import { instantOf, typedOf } from "../../time/typed";
import { MomentField } from "../../ui/Typed";

type Ended = Schemas["RestoreEnded"];
type Props = { data: KeptRestore; onEnd: (ended: Ended) => Promise<unknown>; onClose: () => void };

/** How a restore ended: whether it is open, since when, what it reached, and whether it is looked after from now on. */
export function EndForm({ data, onEnd, onClose }: Props) {
  const { plan } = data;
  const zone = plan.zone;
  const [ok, setOk] = useState(true);
  const [enrol, setEnrol] = useState(true);
  const [opened, setOpened] = useState(() => typedOf(isoSecond(Date.now()), zone));
  const [reached, setReached] = useState(plan.target ? typedOf(plan.target, zone) : "");
  const [message, setMessage] = useState("");
  const [forks, setForks] = useState<Record<string, string>>(
    Object.fromEntries(plan.positions.map((p) => [p.stream, String(p.position)])),
  );
  const at = instantOf(opened, zone);
  const badly = ok && reached.trim() !== "" && !instantOf(reached, zone);
  const lacks = ok && data.over && plan.streams.some((s) => !/^\d{1,18}$/.test(forks[s] ?? ""));
  return (
    <form
      aria-label="How it ended"
      className="mt-4 max-w-[520px] space-y-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (!at || badly || lacks) return;
        void onEnd({
          ok,
          reached: ok ? (instantOf(reached, zone) ?? null) : null,
          opened: at,
          enrol: ok && !data.over && enrol,
          lineage: null,
          positions: data.over ? plan.streams.map((s) => ({ stream: s, position: Number(forks[s]) })) : [],
          message,
        });
      }}
    >
      <h2 className="text-[18px]">How it ended</h2>
      <label className="flex items-baseline gap-2">
        <input type="checkbox" checked={ok} onChange={(e) => setOk(e.target.checked)} />
        {data.name} is open
      </label>
      <MomentField
        label={ok ? "Open since" : "Given up at"}
        className="block"
        zone={zone}
        value={opened}
        onChange={setOpened}
      />
      {ok && (
        <MomentField
          label="Restored to"
          className="block"
          zone={zone}
          value={reached}
          onChange={setReached}
        />
      )}
      {ok &&
        data.over &&
        plan.streams.map((s) => (
          <Labelled
            key={s}
            label={`Position of ${s} at which its logs stopped`}
            value={forks[s] ?? ""}
            onChange={(v) => setForks({ ...forks, [s]: v.trim() })}
          />
        ))}
      {ok && !data.over && (
        <label className="flex items-baseline gap-2">
          <input type="checkbox" checked={enrol} onChange={(e) => setEnrol(e.target.checked)} />
          look after {data.name} by the same rules as {plan.name}
        </label>
      )}
      <Labelled label="Notes to keep" value={message} onChange={setMessage} />
      <FormFoot
        text="Enter it"
        missing={[!at && "when", badly && "the moment it reached", lacks && "where its logs stopped"]}
        problem={null}
        onCancel={onClose}
      />
    </form>
  );
}
