import { useState } from "react";
import { useMore } from "../../api/stretch";
import { MoreButton } from "../../ui/MoreButton";
import { groupsOf, usePurgeItems, type PurgeGroup, type PurgeList } from "./api";
import { count, day, longMoment, size, viewerZone } from "../../time/words";
import { OUTCOMES } from "./outcomes";

const KINDS: Record<string, [string, string]> = {
  full: ["full", "fulls"],
  diff: ["differential", "differentials"],
  incr: ["incremental", "incrementals"],
  log: ["log", "logs"],
  config: ["config backup", "config backups"],
};

/** What is on a list: a line a database, store and kind, each opened to its items, and what all come to. */
export function Groups({ data }: { data: PurgeList }) {
  const [open, setOpen] = useState<string | null>(null);
  const items = data.tallies.reduce((sum, t) => sum + t.items, 0);
  const { rows, left, more } = useMore(groupsOf(data.id), { rows: data.groups }, data.lines);
  return (
    <section aria-label="Items" className="mt-3">
      <table className="w-full table-fixed text-left" data-testid="purge-groups">
        <thead className="text-note text-muted">
          <tr>
            <th className="w-[14%] py-1 font-normal">Database</th>
            <th className="w-[14%] font-normal">What</th>
            <th className="w-[12%] font-normal">Landed</th>
            <th className="w-[10%] pr-3 text-right font-normal">Size</th>
            <th className="w-[15%] font-normal">Outcome</th>
            <th className="font-normal">Why no rule needed it</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((g) => {
            const key = `${g.database}|${g.store}|${g.kind}`;
            return (
              <Group
                key={key}
                purge={data.id}
                group={g}
                many={data.store === null}
                open={open === key}
                onOpen={() => setOpen(open === key ? null : key)}
              />
            );
          })}
        </tbody>
        <tfoot>
          <tr className="border-t border-ink font-semibold">
            <td className="py-1.5">{data.lines === 1 ? "One line" : `${count(data.lines)} lines`}</td>
            <td>{count(items)} in all</td>
            <td />
            <td className="pr-3 text-right">{size(data.asked)}</td>
            <td />
            <td />
          </tr>
        </tfoot>
      </table>
      <MoreButton left={left} onMore={more} />
    </section>
  );
}

function Group(props: {
  purge: string;
  group: PurgeGroup;
  many: boolean;
  open: boolean;
  onOpen: () => void;
}) {
  const { purge, group, many, open, onOpen } = props;
  const [one, several] = KINDS[group.kind] ?? [group.kind, group.kind];
  return (
    <>
      <tr className="border-t border-line align-top" data-group={`${group.database}|${group.kind}`}>
        <td className="truncate py-1.5 pr-2">
          {group.name}
          {many && <span className="block text-note text-muted">{group.storeName}</span>}
        </td>
        <td className="py-1.5 pr-2">
          <button className="text-button" aria-expanded={open} onClick={onOpen}>
            {group.items === 1 ? `one ${one}` : `${count(group.items)} ${several}`}
          </button>
        </td>
        <td className="py-1.5 pr-2">
          {day(group.firstLanded, viewerZone)}
          {group.items > 1 && (
            <span className="block text-note text-muted">to {day(group.lastLanded, viewerZone)}</span>
          )}
        </td>
        <td className="py-1.5 pr-3 text-right">{group.bytes > 0 ? size(group.bytes) : "not known"}</td>
        <td className="py-1.5 pr-2">
          {group.tallies
            .map((t) => (group.tallies.length > 1 ? `${count(t.items)} ` : "") + OUTCOMES[t.state])
            .join(", ")}
        </td>
        <td className="py-1.5 text-muted">
          {group.why}
          {group.otherReasons > 0 && (
            <span className="block text-note">
              and {group.otherReasons === 1 ? "one other reason" : `${group.otherReasons} other reasons`}
            </span>
          )}
        </td>
      </tr>
      {open && <Items purge={purge} group={group} />}
    </>
  );
}

/** The items of a group, page by page. */
function Items({ purge, group }: { purge: string; group: PurgeGroup }) {
  const { data, hasNextPage, fetchNextPage, isFetchingNextPage } = usePurgeItems(purge, group);
  const items = data?.pages.flat() ?? [];
  return (
    <tr>
      <td colSpan={6} className="bg-paper pb-2 pl-4">
        {!data && <p className="text-muted">Looking…</p>}
        <table className="w-full table-fixed text-left text-small">
          <tbody>
            {items.map((i) => (
              <tr
                key={i.num}
                className="border-t border-line align-top"
                data-item={i.num}
                data-state={i.state}
              >
                <td className="w-[34%] truncate py-1 pr-2 font-mono text-note" title={i.path || i.backup}>
                  {i.backup}
                </td>
                <td className="w-[10%] py-1 pr-3 text-right">{i.bytes > 0 ? size(i.bytes) : "not known"}</td>
                <td className="w-[30%] py-1 pr-2">
                  {OUTCOMES[i.state]}
                  {i.at && (
                    <span className="block text-note text-muted">
                      {longMoment(i.at, viewerZone)}
                      {i.by && `, told by ${i.by}`}
                    </span>
                  )}
                </td>
                <td className="py-1 text-muted">{i.told || i.why}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {hasNextPage && (
          <button className="text-button" disabled={isFetchingNextPage} onClick={() => void fetchNextPage()}>
            More of the {count(group.items)}
          </button>
        )}
      </td>
    </tr>
  );
}
