import { useState } from "react";
import { useForm, useWatch } from "react-hook-form";
import { beginRehearsal, NOTHING_LOST, useLosable } from "./api";
import { useMay } from "../../api/session";
import { viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { ProblemNote } from "../../ui/ProblemNote";
import { instantOf } from "../../time/typed";
import { CheckOf, MomentOf, TextOf } from "../../ui/fields";
import type { Schemas } from "../../api/types";

type Kind = "sites" | "stores" | "hosts";
const KINDS: [kind: Kind, text: string][] = [
  ["sites", "Sites"],
  ["stores", "Stores"],
  ["hosts", "Hosts"],
];

/** What is lost in a rehearsal, when, and how many restores run side by side. */
export function LosingForm({ onBegun }: { onBegun: (id: string) => void }) {
  const { data } = useLosable();
  const may = useMay("operator");
  const [chosen, setLost] = useState<Record<Kind, string[]> | null>(null);
  const form = useForm({
    defaultValues: { unlocked: false, moment: "", beside: String(NOTHING_LOST.sideBySide) },
  });
  const [unlocked, moment, beside] = useWatch({
    control: form.control,
    name: ["unlocked", "moment", "beside"],
  });
  const { run, pending, problem } = useCommand();
  if (!data) return null;
  // Until something is chosen: the site on which most depends.
  const [most] = [...data.sites].sort((a, b) => b.databases - a.databases);
  const lost = chosen ?? { sites: most ? [most.id] : [], stores: [], hosts: [] };
  const turn = (kind: Kind, id: string) =>
    setLost({
      ...lost,
      [kind]: lost[kind].includes(id) ? lost[kind].filter((x) => x !== id) : [...lost[kind], id],
    });
  const nothing = !unlocked && KINDS.every(([k]) => lost[k].length === 0);
  const number = Number(beside);
  const at = moment.trim() === "" ? null : instantOf(moment, viewerZone);
  const good = Number.isInteger(number) && number >= 1 && number <= 64 && at !== undefined;
  const send = form.handleSubmit(() => {
    if (nothing || !good) return;
    void run(
      () => beginRehearsal({ ...NOTHING_LOST, ...lost, unlocked, moment: at ?? null, sideBySide: number }),
      (begun) => onBegun(begun.id),
    );
  });
  return (
    <form aria-label="What is lost" noValidate className="space-y-2" onSubmit={(e) => void send(e)}>
      <h2 className="text-section">What is lost?</h2>
      {chosen === null && most && (
        <p className="text-muted">
          Most depends on {most.name}: {most.databases}{" "}
          {most.databases === 1 ? "database lives" : "databases live"} there.
        </p>
      )}
      {KINDS.map(([kind, text]) => (
        <LostOf key={kind} kind={kind} text={text} data={data} lost={lost} turn={turn} />
      ))}
      <CheckOf form={form} name="unlocked" label="everything that is not locked" />
      <MomentOf
        form={form}
        name="moment"
        label="When, or empty for now"
        className="block"
        zone={viewerZone}
      />
      <TextOf form={form} name="beside" label="Restores side by side" />
      {problem && <ProblemNote error={problem} />}
      {may && (
        <button className="ink-button" disabled={nothing || !good || pending}>
          Rehearse it
        </button>
      )}
    </form>
  );
}

function LostOf(props: {
  kind: Kind;
  text: string;
  data: Schemas["Losable"];
  lost: Record<Kind, string[]>;
  turn: (kind: Kind, id: string) => void;
}) {
  const { kind, text, data, lost, turn } = props;
  return (
    <fieldset>
      <legend className="text-muted">{text}</legend>
      <div className={kind === "hosts" ? "grid grid-cols-2" : ""}>
        {data[kind].map((t) => (
          <label key={t.id} className="flex items-baseline gap-2 py-0.5">
            <input type="checkbox" checked={lost[kind].includes(t.id)} onChange={() => turn(kind, t.id)} />
            {t.name}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
