import { useMemo, useState } from "react";
import type { PolicyView, WrittenDocument } from "../../api/types";
import { longMoment, viewerZone } from "../../time/words";
import { useCommand } from "../../ui/useCommand";
import { putInForce, useAhead, usePolicies, useReplay, type Order } from "./api";
import { emptyPolicy, saysTheSame, withValue } from "./document";
import type { Editing } from "./editing";
import { useDraft } from "./useDraft";
import { useSettled } from "../../ui/useSettled";

export type Editor = ReturnType<typeof useEditor>;

/** A policy while it is edited: what is written, what was written before, and what that would do. */
export function useEditor(policy: PolicyView) {
  const inForce = policy.versions.find((v) => v.state === "in-force") ?? null;
  const base: WrittenDocument | null = inForce?.document ?? null;
  const writing = useWriting(policy, base);
  const { document } = writing;
  const changed = base === null || !saysTheSame(base, document);
  const settled = useSettled(document, 250);
  const [tryOn, setTryOn] = useState<string | undefined>(undefined);
  const policies = usePolicies(tryOn !== undefined);
  const many = tryOn ? (policies.data?.find((p) => p.id === tryOn)?.followers ?? 0) : policy.followers.length;
  const replay = useReplay(policy.id, settled, many, tryOn);
  const ahead = useAhead(policy.id, settled, many, tryOn, replay.isSuccess && !replay.isPlaceholderData);
  const next = Math.max(0, ...policy.versions.map((v) => v.version)) + 1;
  const names: [string | null, string] = [
    tryOn ? "as it is" : changed && inForce ? `version ${inForce.version}` : null,
    changed || !inForce ? `version ${next}` : `version ${inForce.version}`,
  ];
  const editing: Editing = useMemo(
    () => ({
      document,
      base,
      set: (path, value) => writing.change(withValue(document, path, value)),
      flaws: replay.data?.flaws ?? [],
      bad: replay.data?.bad ?? null,
    }),
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [document, base, replay.data],
  );
  const stale = replay.isPlaceholderData || settled !== document;
  return {
    ...writing,
    base,
    changed,
    tryOn,
    setTryOn,
    replay,
    ahead,
    next,
    names,
    editing,
    stale,
    working: stale || ahead.isPlaceholderData,
  };
}

/** What is written and how it came to be; the draft is kept with each change, and what is put in force becomes a version. */
function useWriting(policy: PolicyView, base: WrittenDocument | null) {
  const fresh = policy.draft?.document ?? base ?? emptyPolicy(policy.id, policy.name);
  const [history, setHistory] = useState<WrittenDocument[]>([fresh]);
  const document = history[history.length - 1] as WrittenDocument;
  const drafting = useDraft(policy.id);
  const forcing = useCommand([]);
  const [asking, setAsking] = useState(false);
  const [done, setDone] = useState<string | null>(null);
  const write = (to: WrittenDocument, then: WrittenDocument[]) => {
    setHistory(then);
    setDone(null);
    drafting.keep(base && saysTheSame(base, to) ? null : to);
  };
  const change = (to: WrittenDocument) => write(to, [...history, to]);
  const undo = () => {
    const then = history.slice(0, -1);
    write(then[then.length - 1] as WrittenDocument, then);
  };
  const discard = () => {
    if (base) write(base, [...history, base]);
  };
  const say = (order: Order) =>
    void forcing.run(
      () => putInForce(policy.id, document, order),
      (version) => {
        setAsking(false);
        setDone(
          version.state === "coming"
            ? `Version ${version.version} comes into force on ${longMoment(version.effectiveFrom, viewerZone)}.`
            : `Version ${version.version} is in force.`,
        );
      },
    );
  return {
    document,
    history,
    change,
    undo,
    discard,
    say,
    saying: forcing.pending,
    problem: forcing.problem ?? drafting.problem,
    asking,
    setAsking,
    done,
  };
}
