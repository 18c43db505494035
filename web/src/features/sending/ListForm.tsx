import { useState } from "react";
import { useFleet } from "../fleet/api";
import { usePolicies } from "../policies/api";
import { putList, type SendList } from "./api";
import { useCommand } from "../../ui/useCommand";
import { Choice } from "../../ui/Choice";
import { FormFoot } from "../../ui/FormFoot";
import { Labelled } from "../../ui/Labelled";
import { idOf } from "./say";
import { timeOf } from "../../time/typed";
import { TimeField } from "../../ui/Typed";

type Props = {
  list: SendList;
  ranks: string[];
  taken: string[];
  onDone: () => void;
  onClose: () => void;
};

/** Who is told, of which databases, and what. */
export function ListForm({ list, ranks, taken, onDone, onClose }: Props) {
  const [l, setList] = useState(list);
  const [mails, setMails] = useState(list.mails.join(", "));
  const { run, pending, problem } = useCommand();
  const policies = usePolicies();
  const fleet = useFleet();
  const set = (change: Partial<SendList>) => setList({ ...l, ...change });
  const fresh = list.id === "";
  const id = fresh ? idOf(l.name) : list.id;
  const rows = fleet.data?.rows ?? [];
  const choices: Record<string, [string, string][]> = {
    policy: (policies.data ?? []).map((p) => [p.id, p.name]),
    owner: [...new Set(rows.map((r) => r.owner).filter(Boolean))].sort().map((o) => [o, o]),
    label: [...new Set(rows.flatMap((r) => Object.entries(r.labels).map(([k, v]) => `${k}=${v}`)))]
      .sort()
      .map((o) => [o, o.replace("=", ": ")]),
  };
  const addresses = mails
    .split(",")
    .map((m) => m.trim())
    .filter(Boolean);
  const missing = [
    !l.name.trim() && "what it is called",
    addresses.length === 0 && !l.webhook && "whom to tell",
    fresh && taken.includes(id) && "another name: this one is taken",
    [l.watchAt, l.quietFrom, l.quietTo].some((t) => t && !timeOf(t)) && "times of the day such as 22:00",
  ];
  const onDay = (typed: string) => timeOf(typed) ?? "";
  const check = (text: string, key: "ends" | "runsFailed" | "runsOk" | "enabled") => (
    <label className="flex items-baseline gap-2">
      <input type="checkbox" checked={l[key]} onChange={(e) => set({ [key]: e.target.checked })} />
      {text}
    </label>
  );
  return (
    <form
      aria-label="A list"
      className="mt-3 max-w-[620px] space-y-2 border-l-[3px] border-violet pl-4"
      onSubmit={(e) => {
        e.preventDefault();
        if (missing.some(Boolean)) return;
        const of = l.by === "fleet" ? "" : l.of || (choices[l.by]?.[0]?.[0] ?? "");
        const day = { watchAt: onDay(l.watchAt), quietFrom: onDay(l.quietFrom), quietTo: onDay(l.quietTo) };
        void run(() => putList(id, { ...l, ...day, id, of, mails: addresses }), onDone);
      }}
    >
      <Labelled label="Name" value={l.name} onChange={(name) => set({ name })} autoFocus />
      <Labelled label="Mail to, separated by commas" value={mails} onChange={setMails} />
      <Labelled
        label="Events to (CloudEvents over HTTP)"
        value={l.webhook}
        onChange={(webhook) => set({ webhook: webhook.trim() })}
        placeholder="https://…"
      />
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        <Choice
          label="Of"
          value={l.by}
          options={[
            ["fleet", "the whole fleet"],
            ["policy", "a policy"],
            ["owner", "an owner"],
            ["label", "a label"],
          ]}
          onChange={(by) => set({ by, of: "" })}
        />
        {l.by !== "fleet" && (
          <Choice
            label="which"
            labelled={false}
            value={l.of || (choices[l.by]?.[0]?.[0] ?? "")}
            options={choices[l.by] ?? []}
            onChange={(of) => set({ of })}
          />
        )}
        <Choice
          label="Findings"
          value={l.rank}
          options={[["", "none"], ...ranks.map((r): [string, string] => [r, `${r} and worse`])]}
          onChange={(rank) => set({ rank })}
        />
      </div>
      {check("also when a finding ends", "ends")}
      {check("runs that fail, at once", "runsFailed")}
      {check("runs that go well", "runsOk")}
      <div className="grid grid-cols-3 gap-x-4 max-[600px]:grid-cols-1">
        <TimeField label="Morning watch at" value={l.watchAt} onChange={(watchAt) => set({ watchAt })} />
        <TimeField label="Quiet from" value={l.quietFrom} onChange={(quietFrom) => set({ quietFrom })} />
        <TimeField label="to" value={l.quietTo} onChange={(quietTo) => set({ quietTo })} />
      </div>
      <Labelled label="Time zone" value={l.zone} onChange={(zone) => set({ zone })} />
      <Choice
        label="Report"
        value={l.report}
        options={[
          ["", "none"],
          ["weekly", "of the week, on Monday"],
          ["quarterly", "of the quarter, on its first day"],
        ]}
        onChange={(report) => set({ report })}
      />
      {check("switched on", "enabled")}
      <FormFoot
        text="Keep the list"
        missing={missing}
        disabled={pending}
        problem={problem}
        onCancel={onClose}
      />
    </form>
  );
}
