import { DialogBox } from "../../ui/DialogBox";
import { useState } from "react";
import { useForm, useWatch } from "react-hook-form";
import type { Offer } from "../../api/types";
import { startBackup, useOffers } from "./api";
import { duration, size } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { isoSecond } from "../../time/view";
import { Form } from "../../ui/Form";
import { SelectOf, TextOf } from "../../ui/fields";
import { ProblemNote } from "../../ui/ProblemNote";
import { kindName } from "../../ribbon/kinds";

const KEEP = [
  ["0", "as the policy says"],
  ["30", "for 30 days at least"],
  ["365", "for a year at least"],
] as const;

/** A backup started now: which, what it costs and gives, who wants it and why. */
export function StartForm(props: { database: string; onClose: () => void }) {
  const { database, onClose } = props;
  const offers = useOffers(database);
  return (
    <DialogBox
      title={`Start a backup of ${offers.data?.name ?? database}`}
      width="w-[600px]"
      onClose={onClose}
    >
      {offers.error && <ProblemNote error={offers.error} />}
      {!offers.data && !offers.error && <p className="mt-3 text-muted">Working out what each would give…</p>}
      {offers.data && (
        <Choice
          database={database}
          offers={offers.data.offers}
          runner={offers.data.runner}
          onClose={onClose}
        />
      )}
    </DialogBox>
  );
}

function Choice(props: { database: string; offers: Offer[]; runner: string | null; onClose: () => void }) {
  const { database, offers, runner, onClose } = props;
  const form = useForm({ defaultValues: { offer: 0, reason: "", name: "", keep: "0" } });
  const chosen = useWatch({ control: form.control, name: "offer" });
  const { run, pending, problem } = useCommand(["watch"]);
  const [ordered, setOrdered] = useState<string | null>(null);
  const offer = offers[chosen];
  if (!offer)
    return (
      <p className="mt-3">
        Nothing says where a backup of it could go. Give it a route in Fleet, then it can be started here.
      </p>
    );
  if (ordered) return <Started ordered={ordered} runner={runner} onClose={onClose} />;
  return (
    <Form
      form={form}
      label="Start a backup"
      text="Start it"
      missing={(v) => [!v.reason.trim() && "why it is wanted"]}
      disabled={pending}
      problem={problem}
      onSubmit={({ reason, name, keep }) =>
        run(
          () =>
            startBackup(database, {
              kind: offer.kind,
              store: offer.store,
              reason,
              name: name.trim() || null,
              keepUntil: keep === "0" ? null : isoSecond(Date.now() + Number(keep) * 86_400_000),
            }),
          (o) => setOrdered(o.run),
        )
      }
      onCancel={onClose}
    >
      {!runner && (
        <p className="text-ochre-text">
          No runner of its host has asked for work lately: nothing will take this up before one does.
        </p>
      )}
      <fieldset>
        <legend className="font-semibold">What</legend>
        {offers.map((o, i) => (
          <OfferChoice
            key={o.kind + o.store}
            offer={o}
            first={i === 0}
            chosen={i === chosen}
            onChoose={() => form.setValue("offer", i)}
          />
        ))}
      </fieldset>
      <TextOf form={form} name="reason" label="Why is it wanted?" />
      <TextOf form={form} name="name" label="What do you call it?" placeholder="a name, or nothing" />
      <SelectOf form={form} name="keep" label="Keep it" options={KEEP} />
    </Form>
  );
}

function Started(props: { ordered: string; runner: string | null; onClose: () => void }) {
  const { ordered, runner, onClose } = props;
  return (
    <div role="status">
      <p className="mt-3">
        Ordered as <span className="font-mono text-note">{ordered}</span>.{" "}
        {runner
          ? `The runner on ${runner} takes it up when it next asks; Watch shows it under Running now.`
          : "It waits until a runner of its host asks."}
      </p>
      <button className="ink-button mt-4" onClick={onClose}>
        Close
      </button>
    </div>
  );
}

function OfferChoice(props: { offer: Offer; first: boolean; chosen: boolean; onChoose: () => void }) {
  const { offer: o, first, chosen, onChoose } = props;
  return (
    <label className="flex gap-2 border-t border-line py-1.5">
      <input
        type="radio"
        name="offer"
        className="mt-1 self-start"
        autoFocus={first}
        checked={chosen}
        onChange={onChoose}
      />
      <span>
        <b>
          {kindName(o.kind)} to {o.storeName}
        </b>
        , {o.seconds > 0 ? `about ${duration(o.seconds)}` : "how long is not known"}
        {o.bytes > 0 && `, ${size(o.bytes)}`}
        <span className="block text-muted">{o.gives}</span>
      </span>
    </label>
  );
}
